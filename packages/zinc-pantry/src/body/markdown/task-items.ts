import type MarkdownIt from 'markdown-it'

const BOX = /^\[([ xX])\]\s+/

/** Turns `[ ]` and `[x]` at the start of list items into boxes, as the extension spec has them. */
export function addTaskItems(markdown: MarkdownIt): void {
  markdown.core.ruler.push('task_items', ({ tokens, Token }) => {
    for (let position = 0; position < tokens.length; position++) {
      if (tokens[position]?.type !== 'list_item_open') continue
      const [paragraph, inline] = [tokens[position + 1], tokens[position + 2]]
      const first = inline?.children?.[0]
      if (paragraph?.type !== 'paragraph_open' || first?.type !== 'text') continue
      const found = BOX.exec(first.content)
      if (!found) continue
      first.content = first.content.slice(found[0].length)
      const box = new Token('task_box', 'input', 0)
      box.attrs = found[1] === ' ' ? [] : [['checked', '']]
      inline?.children?.unshift(box)
    }
  })
  markdown.renderer.rules.task_box = (tokens, position) =>
    `<input${tokens[position]?.attrGet('checked') === '' ? ' checked=""' : ''} disabled="" type="checkbox"> `
}
