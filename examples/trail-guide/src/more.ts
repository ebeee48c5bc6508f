import { type Html, html } from './html.ts'

/** An item as lists show it. */
export interface ListedItem {
  readonly address: string
  readonly title: string
  readonly summary: string
  readonly kind: string
}

/** Items of a list: the same on the page and in what comes later. */
export const itemCards = (items: readonly ListedItem[]): Html =>
  html`${items.map(({ address, title, summary, kind }) => html`<li class="card"><h2><a href="${address}">${title}</a></h2><p class="facts">${kind}</p><p>${summary}</p></li>`)}`
