const RESERVED = new Set(
  // The generated modules call the query runtime `$` and what they hold `$site`.
  '$ $site arguments await break case catch class const continue debugger default delete do else enum eval export extends false finally for function if implements import in instanceof interface let new null package private protected public return static super switch this throw true try typeof var void while with yield'.split(
    ' ',
  ),
)

/** True for a name that can be exported from a module as it is. */
export const isIdentifier = (name: string): boolean => /^[A-Za-z_$][\w$]*$/.test(name) && !RESERVED.has(name)

/** The nearest name that can: `gear-advice` becomes `gearAdvice`. */
export function toIdentifier(name: string): string {
  const words = name.split(/[^A-Za-z0-9_$]+/).filter((word) => word !== '')
  const joined = words.map((word, at) => (at === 0 ? word : word.charAt(0).toUpperCase() + word.slice(1))).join('')
  if (joined === '') return 'entries'
  if (RESERVED.has(joined)) return `${joined}Entries`
  return /^\d/.test(joined) ? `_${joined}` : joined
}

/** The names of the types of a block. */
export interface BlockTypeNames {
  readonly value: string
  /** The name of the type of the properties that its component is given. */
  readonly properties: string
}

/** Names the types of a block. */
export function blockTypes(block: string): BlockTypeNames {
  const name = `${block.charAt(0).toUpperCase()}${block.slice(1)}`
  return {
    value: `${name}Block`,
    properties: `${name}Properties`,
  }
}
