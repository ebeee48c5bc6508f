import './style.css'
import 'zinc-pantry/code.css'
import { loadPage } from 'zinc-pantry/query'
import { inLanguage } from './frame.ts'
import { html } from './html.ts'
import { itemCards, type ListedItem } from './more.ts'

/** Puts the next part of a long list behind it; without a script its pages are turned. */
function offerMore(button: HTMLButtonElement): void {
  const list = document.querySelector('[data-list]')
  let next: string | null = button.dataset.more ?? null
  button.hidden = next === null
  document.querySelector('.pages')?.remove()
  button.addEventListener('click', async () => {
    if (next === null) return
    button.disabled = true
    const { entries, more } = await loadPage<ListedItem>(next)
    list?.insertAdjacentHTML('beforeend', inLanguage(html`${itemCards(entries)}`, button.dataset.prefix ?? '').text)
    next = more
    button.disabled = false
    button.hidden = next === null
  })
}

const enhance = (): void => {
  for (const button of document.querySelectorAll<HTMLButtonElement>('[data-more]')) offerMore(button)
}

enhance()
// While the site is being worked on, a page draws itself again where what it shows has changed.
if (import.meta.hot) {
  const { keepDrawn } = await import('./redraw.ts')
  await keepDrawn(enhance)
}
