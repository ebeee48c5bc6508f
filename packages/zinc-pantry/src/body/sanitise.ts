import type { Schema } from 'hast-util-sanitize'

/** Elements that ids may stand on: headings, and notes with what leads to them. */
const WITH_ID = ['h1', 'h2', 'h3', 'h4', 'h5', 'h6', 'a', 'li', 'sup']

/** Frees HTML of all that can run code or reach out of its place. */
export async function sanitiseHtml(html: string): Promise<string> {
  const [{ fromHtml }, { defaultSchema, sanitize }, { toHtml }] = await Promise.all([
    import('hast-util-from-html'),
    import('hast-util-sanitize'),
    import('hast-util-to-html'),
  ])
  const tree = sanitize(fromHtml(html, { fragment: true }), createSchema(defaultSchema))
  return toHtml(tree, { closeSelfClosing: true })
}

function createSchema(base: Schema): Schema {
  const attributes = { ...base.attributes }
  const everywhere = (attributes['*'] ?? []).filter((name) => name !== 'id' && name !== 'name')
  const add = (tag: string, ...names: NonNullable<Schema['attributes']>[string]): void => {
    attributes[tag] = [...(attributes[tag] ?? []), ...names]
  }
  attributes['*'] = everywhere
  for (const tag of WITH_ID) add(tag, 'id')
  for (const tag of ['div', 'span']) add(tag, 'dataBlock', 'dataProperties')
  add('pre', 'dataTitle', 'dataMarked')
  add('source', 'type', 'sizes', 'media')
  add('span', ['className', /^code-/])
  for (const tag of ['sup', 'hr', 'section', 'ol', 'li', 'a'])
    add(tag, [
      'className',
      'footnote-ref',
      'footnotes-sep',
      'footnotes',
      'footnotes-list',
      'footnote-item',
      'footnote-backref',
    ])
  return {
    ...base,
    attributes,
    // Ids are made by us; a prefix would part headings from the links to them.
    clobber: [],
    tagNames: [...(base.tagNames ?? []), 'section'],
  }
}

/** Takes the names of our own attributes away from raw HTML, so that nobody passes for a block that was checked. */
export const disarmRaw = (html: string): string => html.replace(/data-(?=block|properties)/gi, 'data-raw-')
