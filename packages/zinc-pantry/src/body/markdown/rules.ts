/** A rule of a parser; what it is given and gives depends on its ruler. */
export type Rule = (this: unknown, ...parameters: unknown[]) => never

/** The rules of a ruler, in order; the parser offers no other way to them. */
export const rulesOf = (ruler: unknown): { readonly name: string; readonly enabled: boolean; fn: Rule }[] =>
  (ruler as { __rules__: { name: string; enabled: boolean; fn: Rule }[] }).__rules__
