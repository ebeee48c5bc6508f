import { createDiagnostic, type Diagnostic } from '../diagnostics/diagnostic.ts'
import { suggestNearest } from '../diagnostics/suggest.ts'
import type { LinkedCollection } from './link-entries.ts'

/** What is known of languages of code. */
interface Languages {
  readonly languages: readonly string[]
  knows(language: string): boolean
}

/** Reports fences of code in a language for which no colours are known. */
export function checkLanguages(
  collections: readonly LinkedCollection[],
  { languages, knows }: Languages,
  plain: readonly string[],
): Diagnostic[] {
  const isFine = (language: string): boolean => knows(language) || plain.includes(language)
  return collections.flatMap(({ entries }) =>
    entries.flatMap(({ body }) =>
      (body?.parsed.fences(isFine) ?? []).flatMap(({ language, span: [start, end] }) => {
        if (!body) return []
        const place = { file: body.file, span: [start + body.startOffset, end + body.startOffset] as const }
        return [
          createDiagnostic('code-language-unknown', place, {
            language,
            suggestion: suggestNearest(language, languages),
          }),
        ]
      }),
    ),
  )
}
