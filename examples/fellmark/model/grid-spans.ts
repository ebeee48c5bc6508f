/** As much of the Markdown parser as the plugin needs. */
interface Renderer {
  readonly renderer: {
    readonly rules: Record<string, ((tokens: { readonly content: string }[], position: number) => string) | undefined>
  }
  readonly utils: { escapeHtml(text: string): string }
}

const GRID = /\b[A-Z]{2} \d{3} \d{3}\b/g

/** A plugin for Markdown: marks grid references in the text, so that a page can show them on its map. */
export function gridSpans({ renderer, utils }: Renderer): void {
  renderer.rules.text = (tokens, position) =>
    utils.escapeHtml(tokens[position]?.content ?? '').replace(GRID, (grid) => `<span class="grid">${grid}</span>`)
}
