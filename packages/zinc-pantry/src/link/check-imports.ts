import { createDiagnostic, type Diagnostic } from '../diagnostics/diagnostic.ts'
import { suggestNearest } from '../diagnostics/suggest.ts'
import type { Entry } from '../validate/entry.ts'
import { resolveFrom } from './resolve-path.ts'

/** Tells whether what a module imports is there; undefined where that cannot be told. */
export type FindImport = (specifier: string, file: string) => boolean | undefined

/** True for an entry whose body imports something. */
export const hasImports = ({ body }: Pick<Entry, 'body'>): boolean =>
  body?.format === 'mdx' && body.summary.imports.length > 0

/** Checks that what bodies of MDX import is there. */
export function checkImports(
  entries: readonly Pick<Entry, 'body'>[],
  find: FindImport,
  namesIn: (folder: string) => readonly string[],
): Diagnostic[] {
  const diagnostics: Diagnostic[] = []
  for (const { body } of entries) {
    if (body?.format !== 'mdx') continue
    const { file, startOffset, summary } = body
    for (const { href: specifier, span } of summary.imports) {
      if (find(specifier, file) !== false) continue
      const place = { file, span: [span[0] + startOffset, span[1] + startOffset] as const }
      const isFile = specifier.startsWith('.')
      const slash = specifier.lastIndexOf('/') + 1
      const folder = isFile ? resolveFrom(file, specifier.slice(0, slash)) : undefined
      const name = folder === undefined ? undefined : suggestNearest(specifier.slice(slash), namesIn(folder))
      const suggestion = name && specifier.slice(0, slash) + name
      diagnostics.push(createDiagnostic('import-missing', place, { specifier, isFile, suggestion }))
    }
  }
  return diagnostics
}
