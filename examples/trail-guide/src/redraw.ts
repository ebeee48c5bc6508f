import { inLanguage } from './frame.ts'
import { createGuide } from './guide.ts'
import { LOCALES, prefixOf } from './words.ts'

/** Draws the page of the address again whenever content that it shows changes, where the reader stands. */
export async function keepDrawn(drawn: () => void): Promise<void> {
  const guide = createGuide({ today: new Date().toISOString().slice(0, 10) })
  const { pathname } = window.location
  const prefix = LOCALES.map(prefixOf).find((one) => one !== '' && pathname.startsWith(`${one}/`)) ?? ''
  // Asked once so that what the page shows counts as used.
  await guide.page(pathname)
  window.addEventListener('zinc-pantry:change', async (event) => {
    event.preventDefault()
    const page = await guide.page(pathname)
    const main = document.querySelector('main')
    if (!page || !main) return window.location.reload()
    main.innerHTML = inLanguage(page.main, prefix).text
    drawn()
  })
}
