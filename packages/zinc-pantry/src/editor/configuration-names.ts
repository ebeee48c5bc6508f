import { findNames, type NameOccurrence } from '../change/find-names.ts'
import type { ModelSymbol } from '../change/model-names.ts'
import { openConfiguration } from '../engine/configuration/open-configuration.ts'
import type { EditorSite } from './editor-site.ts'
import type { Position } from './look-at.ts'

/** The surroundings of a question that reaches into the configuration. */
export interface Surrounding {
  readonly configurationFile: string
  textOf(file: string): string | undefined
}

/** The names in the configuration that stand for a part of the model. */
export async function findOccurrences(
  { model }: EditorSite,
  isWanted: (occurrence: NameOccurrence) => boolean,
  { configurationFile, textOf }: Surrounding,
): Promise<readonly NameOccurrence[]> {
  return findNames(model, await openConfiguration(configurationFile, textOf)).occurrences.filter(isWanted)
}

/** The name in a configuration that a position is in. */
export async function findOccurrenceAt(
  editorSite: EditorSite,
  { file, offset }: Position,
  around: Surrounding,
): Promise<NameOccurrence | undefined> {
  if (!/\.[cm]?[jt]s$/.test(file) || editorSite.contentPath(file) !== undefined) return undefined
  const [found] = await findOccurrences(
    editorSite,
    ({ place }) => place.file === file && place.span[0] <= offset && offset <= place.span[1],
    around,
  )
  return found
}

/** The name that a symbol ends with. */
export const nameOf = (symbol: ModelSymbol): string =>
  symbol.slice(Math.max(symbol.lastIndexOf('.'), symbol.indexOf('=')) + 1)
