import type { OrderKey } from './model.ts'

/** Reads an order: fields with commas, `-` in front of those of which the largest comes first. */
export const orderedFields = (text: string): OrderKey[] =>
  text.split(',').flatMap((part): OrderKey[] => {
    const name = part.trim()
    if (name === '') return []
    return name.startsWith('-')
      ? [{ field: name.slice(1), direction: 'descending' }]
      : [{ field: name, direction: 'ascending' }]
  })
