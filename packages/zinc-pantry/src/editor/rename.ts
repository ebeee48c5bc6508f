import { wordsOf } from '../change/model-names.ts'
import type { Span } from '../diagnostics/diagnostic.ts'
import type { ChangeRequest } from '../engine/change-request.ts'
import { qualifiedId } from '../link/pages.ts'
import { nameOf, type Surrounding } from './configuration-names.ts'
import type { EditorSite } from './editor-site.ts'
import { findMeaning } from './find-meaning.ts'
import type { Position } from './look-at.ts'

/** Something at a position that can have another name. */
export interface Renaming {
  /** As the command `rename` names it. */
  readonly target: string
  /** The name that it has. */
  readonly name: string
  readonly span: Span
}

/** Finds what can have another name at a position: an entry, a field, a word of a choice, a file. */
export async function findRenaming(
  editorSite: EditorSite,
  position: Position,
  around: Surrounding,
): Promise<Renaming | undefined> {
  const meaning = await findMeaning(editorSite, position, around)
  if (!meaning) return undefined
  const { span } = meaning
  switch (meaning.kind) {
    case 'entry':
      return { target: qualifiedId(meaning.entry), name: meaning.entry.id, span }
    case 'heading':
      return { target: `${qualifiedId(meaning.entry)}#${meaning.heading.id}`, name: meaning.heading.text, span }
    case 'file':
      return { target: meaning.path, name: meaning.path, span }
    case 'symbol':
      return meaning.isValue ? undefined : { target: wordsOf(meaning.symbol), name: nameOf(meaning.symbol), span }
  }
}

export const renameRequest = ({ target }: Renaming, name: string): ChangeRequest => ({ kind: 'rename', target, name })
