import type { TreeNode } from 'zinc-pantry/query'
import type { HandbookPage } from '#pantry'
import { handbook, wardens } from '#pantry'
import { renderBody } from '../components.ts'
import { type Html, html } from '../html.ts'
import type { Making, Section } from '../page.ts'
import { outlineList } from '../parts.ts'

/** The handbook: chapters, and chapters in them. */
export const handbookPages: Section = {
  paths: async () => ['/handbook/', ...(await handbook.toArray()).map(({ address }) => address)],
  async page(path, making) {
    const { say } = making
    if (path === '/handbook/')
      return {
        title: say('handbook'),
        description: say('handbook'),
        main: html`<div class="wrap narrow"><h1>${say('handbook')}</h1>${drawTree(await handbook.tree())}</div>`,
      }
    const page = await handbook.where((one) => one.address.is(path)).first()
    return page && { title: page.title, description: page.body.excerpt, main: await drawPage(page, making) }
  },
}

/** Pages with those below them, as a list of lists. */
const drawTree = (nodes: readonly TreeNode<HandbookPage>[]): Html | false =>
  nodes.length > 0 &&
  html`<ul class="tree">${nodes.map(({ entry: { address, title }, children }) => html`<li><a href="${address}">${title}</a>${drawTree(children)}</li>`)}</ul>`

async function drawPage(page: HandbookPage, making: Making): Promise<Html> {
  const { id, title, body } = page
  const [above, below, editor] = await Promise.all([
    handbook.ancestors(id),
    handbook.tree(id),
    wardens.bySlug(page.editor),
  ])
  return html`<article class="wrap"><nav aria-label="${making.say('handbook')}"><p class="facts"><a href="/handbook/">${making.say('handbook')}</a>${above.map((one) => html` › <a href="${one.address}">${one.title}</a>`)}</p></nav>
<h1>${title}</h1><div class="columns"><div class="prose">${await renderBody(await handbook.loadBody(id), making)}${drawTree(below)}</div><aside class="side" aria-label="${title}">${outlineList(body.outline, making)}${editor && html`<p class="facts">${editor.name}</p>`}</aside></div></article>`
}
