// @ts-check
/** Renders bodies with the site's own components to plain HTML: a trail in Markdown, advice in MDX, a page with code. */
import { copyFileSync, cpSync, mkdirSync, writeFileSync } from 'node:fs'
import { fileURLToPath } from 'node:url'
import { renderHtml } from 'zinc-pantry/render'
import { gear, handbook, trails } from '#pantry'

/**
 * @import { CalloutProperties, KitProperties, WeightsProperties } from '#pantry'
 * @import { EntryBody, StoredBody } from 'zinc-pantry/query'
 */

const kept = new Map((await gear.toArray()).map((item) => [item.id, item]))

const components = {
  /** @param {{ src: string, alt: string }} image */
  image: ({ src, alt }) => `<figure><img src="${src}" alt="${alt}"><figcaption>${alt}</figcaption></figure>`,
  /** @param {{ title?: string, children: string }} code */
  code: ({ title, children }) =>
    `<figure>${title ? `<figcaption>${title}</figcaption>` : ''}<pre>${children}</pre></figure>`,
  blocks: {
    /** @param {CalloutProperties<string>} callout */
    callout: ({ tone, title, children = '' }) =>
      `<aside class="${tone}">${title ? `<strong>${title}</strong>` : ''}${children}</aside>`,
    /** @param {KitProperties<string>} kit */
    kit: ({ item, count }) => {
      const { address, title, weight } = kept.get(item) ?? {}
      const grams = weight ? `, ${weight * count} g` : ''
      return `<p class="kit">${count > 1 ? `${count} × ` : ''}<a href="${address}">${title}</a>${grams}</p>`
    },
    /** @param {WeightsProperties<string>} weights */
    weights: ({ parts, unit }) =>
      `<dl>${parts.map(({ name, weight }) => `<dt>${name}</dt><dd>${weight} ${unit}</dd>`).join('')}</dl>`,
  },
}

const style = `
  :root { color-scheme: light dark }
  body { font: 17px/1.5 Georgia, serif; max-width: 44rem; margin: 2rem auto; padding: 0 1.5rem; color: light-dark(#22302a, #dfe5e0); background: light-dark(#fbfaf6, #141a18) }
  nav, figcaption { font-size: .85em; color: light-dark(#5b6a62, #9aa8a0) } a { color: light-dark(#1f5e3a, #8fd0a8) } figure { margin: 1rem 0 }
  table { border-collapse: collapse } td, th { padding: .2rem .8rem; border-bottom: 1px solid light-dark(#d5d8cf, #3a453f) }
  aside { border-left: 4px solid #c77d2b; background: light-dark(#fbf1e2, #33281a); padding: .4rem 1rem } aside p { margin: .3rem 0 }
  img { width: 100%; max-height: 9rem; object-fit: cover } .kit { background: light-dark(#eef3ea, #1e2a22); padding: .4rem 1rem }
  dl { display: grid; grid-template-columns: auto 1fr; gap: .2rem 1rem } dd { margin: 0 }
  pre { padding: .8rem 1rem; overflow-x: auto }
  li:has(> input) { list-style: none; margin-left: -1.4rem }`

/** @type {(outline: EntryBody['outline']) => string[]} */
const contents = (outline) =>
  outline.flatMap(({ id, text, children }) => [`<a href="#${id}">${text}</a>`, ...contents(children)])

/**
 * @param {{ title: string, address: string, body: EntryBody } | undefined} entry
 * @param {StoredBody | undefined} body
 */
async function writePage(entry, body) {
  if (!entry || !body) throw new Error('There is no such page')
  const { title, address } = entry
  const { format, words, minutes, outline, blocks } = entry.body
  const head = `<meta charset="utf-8"><title>${title}</title><style>${style}</style><link rel="stylesheet" href="/code.css">`
  const facts = [`${words} words, ${minutes} min`, ...contents(outline)].join(' · ')
  const heading = outline[0]?.depth === 1 ? '' : `<h1>${title}</h1>`
  const html = `<!doctype html><html lang="en">${head}<nav>${facts}</nav>${heading}${await renderHtml(body, components)}</html>\n`
  mkdirSync(`generated/pages${address}`, { recursive: true })
  writeFileSync(`generated/pages${address}index.html`, html)
  console.log(
    `${format.padEnd(8)}  ${`${address}index.html`.padEnd(40)}  ${words} words, blocks: ${blocks.join(', ') || 'none'}`,
  )
}

await writePage(await trails.byId('north-fell/high-traverse'), await trails.loadBody('north-fell/high-traverse'))
await writePage(await gear.byId('layers'), await gear.loadBody('layers'))
await writePage(await gear.byId('crampons'), await gear.loadBody('crampons'))
await writePage(await handbook.byId('weather'), await handbook.loadBody('weather'))
copyFileSync(fileURLToPath(import.meta.resolve('zinc-pantry/code.css')), 'generated/pages/code.css')
cpSync('content/pictures', 'generated/pages/files/pictures', { recursive: true })
console.log('Written to generated/pages')
