import { createDiagnostic, type Diagnostic, type Span } from '../diagnostics/diagnostic.ts'
import { MAX_DEPTH } from './document.ts'

/** Most values that aliases may add to one file. A file without aliases has no such limit. */
export const MAX_ALIASED = 100_000

/** A fault of a YAML text, before it is said in words. */
export type YamlFault = { readonly span: Span } & (
  | { readonly code: 'duplicate-key'; readonly key: string }
  | { readonly code: 'unfit-tag'; readonly tag: string; readonly text: string }
  | { readonly code: 'alias-unknown'; readonly name: string }
  | { readonly code: 'alias-recursive'; readonly name: string }
  | { readonly code: 'too-large' }
  | { readonly code: 'too-deep' }
  | { readonly code: 'tab' }
  | { readonly code: 'colon'; readonly text: string }
  | { readonly code: 'syntax'; readonly reason: string; readonly corrected?: string | undefined }
)

/** A tag that is not of the core schema. The value is read as if it had none. */
export interface UnknownTag {
  /** As it is written. */
  readonly tag: string
  readonly span: Span
}

/** The diagnostic for such a tag; `offset` is added to its span. */
export const describeUnknownTag = ({ tag, span: [start, end] }: UnknownTag, file: string, offset: number): Diagnostic =>
  createDiagnostic('yaml-tag-unknown', { file, span: [start + offset, end + offset] }, { tag })

/** The diagnostic for a fault; `offset` is added to its span. */
export function describeYamlFault(fault: YamlFault, file: string, offset: number): Diagnostic {
  const place = { file, span: [fault.span[0] + offset, fault.span[1] + offset] as Span }
  switch (fault.code) {
    case 'duplicate-key':
      return createDiagnostic('yaml-duplicate-key', place, { key: fault.key })
    case 'unfit-tag':
      return createDiagnostic('yaml-tag', place, { tag: fault.tag, text: fault.text })
    case 'alias-unknown':
      return createDiagnostic('yaml-syntax', place, { reason: `No anchor is named ${fault.name}` })
    case 'alias-recursive':
      return createDiagnostic('yaml-syntax', place, {
        reason: `Alias ${fault.name} stands inside the value it repeats`,
      })
    case 'too-large':
      return createDiagnostic('yaml-too-large', place, { limit: MAX_ALIASED })
    case 'too-deep':
      return createDiagnostic('yaml-too-deep', place, { limit: MAX_DEPTH })
    case 'tab':
      return createDiagnostic('yaml-tab', place, {})
    case 'colon':
      return createDiagnostic('yaml-colon', place, { text: fault.text })
    case 'syntax':
      return createDiagnostic('yaml-syntax', place, { reason: fault.reason, corrected: fault.corrected })
  }
}
