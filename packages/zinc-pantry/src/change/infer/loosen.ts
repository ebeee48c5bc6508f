import type { Guess, GuessedCollection, GuessedField } from './guess.ts'

/** Takes a guess back a step, to what fits more values; undefined where nothing fits more. */
function loosen(guess: Guess): Guess | undefined {
  const { kind, items = [], why } = guess
  const said = why === undefined ? {} : { why }
  switch (kind) {
    case 'ref':
    case 'choice':
    case 'image':
    case 'file':
    case 'url':
    case 'email':
    case 'colour':
    case 'date':
    case 'instant':
    case 'time':
    case 'duration':
    case 'markdown':
      return { kind: 'text' }
    case 'int':
      return { kind: 'number' }
    case 'anything':
      return undefined
    case 'list':
    case 'map': {
      const [item] = items
      const inner = item && loosen(item)
      return inner ? { ...guess, items: [inner], ...said } : { kind: 'anything' }
    }
    default:
      return { kind: 'anything' }
  }
}

/** Collections with a looser guess for the field at a dotted path, as diagnostics name it. */
export function loosenField(
  collections: readonly GuessedCollection[],
  collection: string,
  path: readonly string[],
): readonly GuessedCollection[] {
  return collections.map((one) => (one.name === collection ? { ...one, fields: loosenIn(one.fields, path) } : one))
}

function loosenIn(fields: readonly GuessedField[], [name, ...rest]: readonly string[]): readonly GuessedField[] {
  return fields.map((field) => {
    if (field.name !== name) return field
    return { ...field, guess: loosenInside(field.guess, rest) ?? field.guess }
  })
}

/** The fields inside of a guess are entered through lists and maps; where there are none, the guess itself is loosened. */
function loosenInside(guess: Guess, rest: readonly string[]): Guess | undefined {
  const { fields, items } = guess
  if (rest.length > 0 && fields) return { ...guess, fields: loosenIn(fields, rest) }
  const [item] = items ?? []
  if (rest.length > 0 && item && guess.kind !== 'either') {
    const inner = loosenInside(item, rest)
    return inner && { ...guess, items: [inner] }
  }
  return loosen(guess)
}
