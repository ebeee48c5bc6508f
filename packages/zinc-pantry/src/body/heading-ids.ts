import { PluginFailure } from './plugin-failure.ts'

const WRITTEN_ID = /(?<![ \t])[ \t]*\{#([A-Za-z][\w.:-]*)\}[ \t]*$/

/** An id that is written at the end of a heading, as `## Title {#here}`, and the text before it. */
export function takeWrittenId(text: string): { readonly id: string; readonly text: string } | undefined {
  const found = text.endsWith('}') || text.endsWith(' ') ? WRITTEN_ID.exec(text) : null
  return found ? { id: found[1] as string, text: text.slice(0, found.index) } : undefined
}

/** Gives headings ids that are unique in a text and depend only on the headings above. */
export function createHeadingIds(
  makeOwn?: (text: string) => string,
): (text: string, written: string | undefined) => string {
  /** Ids that are taken, each with the number that the next one of its text may get. */
  const taken = new Map<string, number>()
  return (text, written) => {
    const id = written ?? ((makeOwn && ownId(makeOwn, text)) || makeId(text))
    let unique = id
    for (let count = taken.get(id) ?? 0; taken.has(unique); count++) {
      unique = `${id}-${count + 1}`
      taken.set(id, count + 1)
    }
    taken.set(unique, 0)
    return unique
  }
}

/** An id of the site's own; one that is no text, or fails, is none. */
function ownId(make: (text: string) => string, text: string): string | undefined {
  try {
    const id: unknown = make(text)
    return typeof id === 'string' ? id.trim().replace(/\s+/g, '-') : undefined
  } catch (error) {
    throw new PluginFailure('headingId', error)
  }
}

/** Letters, digits, `_` and `-` of all scripts in lower case, with `-` for every space, as most writers expect. */
function makeId(text: string): string {
  const lower = text.trim().toLowerCase()
  // The long way takes several times as long, and most headings need it not.
  const kept = isAscii(lower) ? lower.replace(/[^\w\- ]/g, '') : lower.replace(/[^\p{L}\p{M}\p{N}\p{Pc}\- ]/gu, '')
  return kept.replaceAll(' ', '-') || 'section'
}

const isAscii = (text: string): boolean => /^[\x20-\x7e]*$/.test(text)
