import type { BodyFacts } from '../schema/body-facts.ts'

/** What an entry says of its body without loading it. */
export interface EntryBody extends BodyFacts {
  readonly format: 'markdown' | 'mdx'
}
