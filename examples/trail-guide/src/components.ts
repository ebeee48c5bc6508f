import type { StoredBody } from 'zinc-pantry/query'
import { renderHtml } from 'zinc-pantry/render'
import type { CalloutProperties, KitProperties, WeightsProperties } from '#pantry'
import { gear } from '#pantry'
import { Html, html } from './html.ts'
import type { Making } from './page.ts'

/** A body with the guide's own components. */
export async function renderBody(body: StoredBody | undefined, { say }: Making): Promise<Html> {
  if (!body) return html``
  const items = new Map((await gear.toArray()).map((item) => [item.id as string, item]))
  const write = (part: Html): string => part.text
  const rendered = await renderHtml(body, {
    image: ({ src, alt }) =>
      write(
        html`<figure><img src="${src}" alt="${alt}" loading="lazy">${alt !== '' && html`<figcaption>${alt}</figcaption>`}</figure>`,
      ),
    code: ({ title, children }) =>
      write(
        html`<figure class="code">${title && html`<figcaption>${title}</figcaption>`}<pre tabindex="0">${new Html(children)}</pre></figure>`,
      ),
    table: ({ children }) =>
      `<div class="wide" role="region" tabindex="0" aria-label="Table"><table>${children}</table></div>`,
    blocks: {
      callout: ({ tone, title, children = '' }: CalloutProperties<string>) =>
        write(
          html`<div role="note" class="callout ${tone}">${title && html`<p class="callout-title">${title}</p>`}${new Html(children)}</div>`,
        ),
      kit: ({ item, count }: KitProperties<string>) => {
        const { address, title, weight } = items.get(item) ?? {}
        return write(
          html`<p class="kit">${count > 1 && `${count} × `}<a href="${address}">${title}</a>${weight !== undefined && weight !== null && ` · ${weight * count} ${say('weight')}`}</p>`,
        )
      },
      weights: ({ parts, unit }: WeightsProperties<string>) =>
        write(
          html`<dl class="weights">${parts.map(({ name, weight }) => html`<dt>${name}</dt><dd>${weight} ${unit}</dd>`)}</dl>`,
        ),
    },
  })
  // The page has the title already, where the body starts with it.
  const untitled = rendered.replace(/^\s*<h1[^>]*>.*?<\/h1>/s, '')
  const boxes = /<input([^>]*) type="checkbox"/g
  return new Html(
    untitled.replace(
      boxes,
      (box, state: string) => `${box} aria-label="${say(state.includes('checked') ? 'done' : 'open')}"`,
    ),
  )
}
