import { createDiagnostic, type Diagnostic } from '../diagnostics/diagnostic.ts'
import { suggestNearest } from '../diagnostics/suggest.ts'
import type { LinkedCollection } from './link-entry.ts'
import { resolveFrom } from './resolve-path.ts'

/** Tells whether what a module imports is there; undefined where that cannot be told. */
export type FindImport = (specifier: string, file: string) => boolean | undefined

/** Checks that what bodies of MDX import is there, and says whether any imports something at all. */
export function checkImports(
  collections: readonly LinkedCollection[],
  find: FindImport,
  namesIn: (folder: string) => readonly string[],
): { readonly diagnostics: Diagnostic[]; readonly hasImports: boolean } {
  const diagnostics: Diagnostic[] = []
  let hasImports = false
  for (const { entries } of collections)
    for (const { body } of entries) {
      if (body?.format !== 'mdx') continue
      const { file, startOffset, summary } = body
      for (const { href: specifier, span } of summary.imports) {
        hasImports = true
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
  return { diagnostics, hasImports }
}
