import { html } from '../html.ts'
import type { Making, Page } from '../page.ts'

/** What is shown where there is no page. */
export const notFound = ({ say }: Making): Page => ({
  title: say('missing'),
  description: say('missing'),
  main: html`<div class="wrap narrow"><h1>${say('missing')}</h1><p>${say('missingText')}</p><p><a class="button" href="/">${say('home')}</a></p></div>`,
})
