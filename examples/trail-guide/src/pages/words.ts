import { words } from '#pantry'
import { html } from '../html.ts'
import type { Section } from '../page.ts'

/** Words of the fells, in the language of the page; one that is missing there is shown as it is in the first. */
export const wordPages: Section = {
  paths: async () => ['/words/'],
  async page(path, { locale, say }) {
    if (path !== '/words/') return undefined
    const list = await words.inLocale(locale).toArray()
    const main = html`<div class="wrap narrow"><h1>${say('words')}</h1><dl class="words">${list.map(
      ({ word, meaning, locale: own }) =>
        html`<dt lang="${own}">${word}${own !== locale && html` <span class="facts">${say('otherLanguage')}</span>`}</dt><dd lang="${own}">${meaning}</dd>`,
    )}</dl></div>`
    return { title: say('words'), description: say('words'), main }
  },
}
