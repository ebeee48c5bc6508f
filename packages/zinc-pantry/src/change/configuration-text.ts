import type { Place, Span } from '../diagnostics/diagnostic.ts'

/**
 * A way through the syntax of a configuration, from what `pantry` is given: keys of objects, positions in lists, and positions of the
 * arguments of calls. `['collections', 'huts', 'fields', 'position', 0, 'latitude']` is a field of `group({ latitude: … })`.
 */
export type SyntaxPath = readonly (string | number)[]

/** A name, or a text, as it is written in a configuration. */
export interface WrittenName {
  readonly file: string
  /** Without quotes. */
  readonly span: Span
  readonly text: string
  readonly form: 'identifier' | 'quoted' | 'shorthand'
  /** The place of the whole property, or of the text with its quotes. */
  readonly whole: Span
  /** Of a key whose value is a constant: its name, and the place of both. */
  readonly constant?: { readonly name: string; readonly span: Span }
}

/** A call as it is written in a configuration. */
export interface WrittenCall {
  readonly place: Place
  readonly callee: string
  /** The options of its last argument, as they are written. */
  readonly options: readonly { readonly name: string; readonly text: string }[]
}

/** The text of a configuration and of the files of the site that it imports, in which settings have places. */
export interface ConfigurationText {
  /** The key at the end of a path; undefined where the text does not show it. */
  keyAt(path: SyntaxPath): WrittenName | undefined
  /** All keys of the object at a path that are written out. */
  keysAt(path: SyntaxPath): readonly WrittenName[]
  /** The text at a path, or those of the list there, as far as they are written out. */
  textsAt(path: SyntaxPath): readonly WrittenName[]
  /** The call that is written at a path, not that of a constant. */
  callAt(path: SyntaxPath): WrittenCall | undefined
  /** Where code reads the property of a constant whose key stands at a place, as `listed.title` does. */
  readsOf(key: Place): readonly Place[]
  /** The place of a setting, as far along its path as the text shows. */
  placeOf(path: SyntaxPath): Place
}
