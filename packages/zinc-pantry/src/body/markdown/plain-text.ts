import type MarkdownIt from 'markdown-it'
import type { StateBlock, StateInline } from './token.ts'

/** Addresses as most of them are written, which are as they should be already. */
const PLAIN_ADDRESS = /^(?:https?:\/\/[a-z\d][a-z\d.-]*(?:\/[\w./~-]*)?|(?:\.{0,2}\/)?\w[\w./-]*(?:#[\w-]*)?|#[\w-]*)$/

/**
 * Spares a parser what plain texts need not, which is a twentieth of the time of a build: the taking apart of addresses, other ends
 * of lines, and a close look at each sign. What it makes of a text stays the same.
 */
export function sparePlainTexts(markdown: MarkdownIt): void {
  const { normalizeLink } = markdown
  markdown.normalizeLink = (address) => (PLAIN_ADDRESS.test(address) ? address : normalizeLink(address))
  const [normalize] = markdown.core.ruler.getRules('')
  markdown.core.ruler.at('normalize', (state) => {
    if (state.src.includes('\r') || state.src.includes('\0')) normalize?.(state)
  })
  markdown.inline.ruler.at('text', passText)
  markdown.block.State = lineState(markdown.block.State)
}

/** Signs of ASCII at which another rule may begin, by their codes. */
const BEGINS_RULE = new Uint8Array(128)
for (const sign of '\n!#$%&*+-:<=>@[\\]^_`{}~') BEGINS_RULE[sign.charCodeAt(0)] = 1

/** Passes over signs at which no other rule begins. */
function passText(state: StateInline, isSilent: boolean): boolean {
  const { src, pos, posMax } = state
  let end = pos
  while (end < posMax && BEGINS_RULE[src.charCodeAt(end)] !== 1) end++
  if (end === pos) return false
  if (!isSilent) state.pending += src.slice(pos, end)
  state.pos = end
  return true
}

const SPACE = 32
const TAB = 9

/** A state of the parser of blocks that looks for the ends of lines, and at signs only where lines begin. */
function lineState(State: typeof StateBlock): typeof StateBlock {
  return class extends State {
    constructor(...[text, ...others]: ConstructorParameters<typeof StateBlock>) {
      super('', ...others)
      this.src = text
      const { bMarks, eMarks, tShift, sCount, bsCount } = this
      // Behind the lines stands an empty one, which an empty text has already.
      for (const list of [bMarks, eMarks, tShift, sCount, bsCount]) list.pop()
      const add = (start: number, end: number, shift: number, indent: number): void => {
        bMarks.push(start)
        eMarks.push(end)
        tShift.push(shift)
        sCount.push(indent)
        bsCount.push(0)
      }
      for (let start = 0; start < text.length; ) {
        const next = text.indexOf('\n', start)
        const end = next === -1 ? text.length : next
        let at = start
        let indent = 0
        for (; at < end; at++) {
          const code = text.charCodeAt(at)
          if (code !== SPACE && code !== TAB) break
          indent += code === TAB ? 4 - (indent % 4) : 1
        }
        // A text may end in spaces, which are no line.
        if (next !== -1 || at < end) add(start, end, at - start, indent)
        start = end + 1
      }
      this.lineMax = bMarks.length
      add(text.length, text.length, 0, 0)
    }
  }
}
