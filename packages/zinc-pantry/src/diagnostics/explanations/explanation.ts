/** The meaning of a code, then a text that raises it and one that does not. */
export type Explanation = readonly [meaning: string, wrong: string, right: string]

/** An explanation for every code of a part of the catalogue. */
export type Explanations<Codes> = { readonly [Code in keyof Codes]: Explanation }
