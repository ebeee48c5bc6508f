import type { BodyFacts } from '../schema/body-facts.ts'

/** The facts of a body, which are known without loading it. */
export interface EntryBody extends BodyFacts {
  readonly format: 'markdown' | 'mdx'
}
