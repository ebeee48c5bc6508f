import type { CodeFence } from '../body/body-summary.ts'
import { createDiagnostic, type Diagnostic } from '../diagnostics/diagnostic.ts'
import { suggestNearest } from '../diagnostics/suggest.ts'
import type { EntryBody } from '../validate/entry.ts'

/** True for a language that has colours, or is to have none. */
export type LanguageTest = (language: string) => boolean

/** True where a body may have a fence of code in a language that is not known. */
export const hasUnknownLanguage = ({ summary }: EntryBody, isKnown: LanguageTest): boolean =>
  // With escapes it can be any language.
  !summary.languages.every((language) => isKnown(language) && (summary.fences || !/[\\&]/.test(language)))

/** Describes fences of code in a language for which no colours are known. */
export const checkLanguages = (
  { file, startOffset }: EntryBody,
  fences: readonly CodeFence[],
  languages: readonly string[],
): Diagnostic[] =>
  fences.map(({ language, span: [start, end] }) =>
    createDiagnostic(
      'code-language-unknown',
      { file, span: [start + startOffset, end + startOffset] },
      { language, suggestion: suggestNearest(language, languages) },
    ),
  )
