import type { BodyFacts } from '../body/parsed-body.ts'

/** What an entry says of its body without loading it. */
export interface EntryBody extends BodyFacts {
  readonly format: 'markdown' | 'mdx'
}
