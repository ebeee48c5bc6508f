import {
  CodeActionKind,
  type CompletionItem,
  CompletionItemKind,
  CompletionItemTag,
  DiagnosticSeverity,
  DiagnosticTag,
  type DocumentSymbol,
  type FoldingRange,
  type CodeAction as ProtocolAction,
  type Diagnostic as ProtocolDiagnostic,
  SymbolKind,
  type TextDocumentEdit,
  type WorkspaceEdit,
} from 'vscode-languageserver/node'
import type { Change, ChangeStep } from '../change/change.ts'
import { type Diagnostic, helpOf, messageOf, noteOf, type Place } from '../diagnostics/diagnostic.ts'
import { groupBy } from '../diagnostics/group-by.ts'
import type { CodeAction } from './code-actions.ts'
import type { Offer, OfferKind } from './offer.ts'
import type { DocumentPart } from './symbols.ts'
import type { TextPositions } from './text-positions.ts'

/** Where files are for the protocol, and how their texts are counted. */
export interface ProtocolPlaces {
  uriOf(file: string): string
  positionsIn(file: string): TextPositions
  /** The version of a document that is open; null for others. */
  versionOf(file: string): number | null
}

export const asLocation = ({ file, span }: Place, { uriOf, positionsIn }: ProtocolPlaces) => ({
  uri: uriOf(file),
  range: positionsIn(file).rangeOf(span),
})

const UNUSED: ReadonlySet<string> = new Set(['asset-unused', 'page-unlinked', 'file-unmatched', 'body-dropped'])

/** A diagnostic for the protocol; `explain` gives the address of the explanation of a code. */
export function asDiagnostic(
  diagnostic: Diagnostic,
  places: ProtocolPlaces,
  explain: (code: string) => string,
): ProtocolDiagnostic {
  const { code, severity, span, file, related = [] } = diagnostic
  const help = helpOf(diagnostic)
  const tags = [
    ...(UNUSED.has(code) ? [DiagnosticTag.Unnecessary] : []),
    ...(code.endsWith('-deprecated') ? [DiagnosticTag.Deprecated] : []),
  ]
  return {
    range: places.positionsIn(file).rangeOf(span),
    severity: severity === 'error' ? DiagnosticSeverity.Error : DiagnosticSeverity.Warning,
    code,
    codeDescription: { href: explain(code) },
    source: 'zinc-pantry',
    message: help ? `${messageOf(diagnostic)}\n${help}` : messageOf(diagnostic),
    ...(tags.length > 0 ? { tags } : {}),
    ...(related.length > 0
      ? { relatedInformation: related.map((one) => ({ location: asLocation(one, places), message: noteOf(one) })) }
      : {}),
  }
}

const KINDS: Readonly<Record<OfferKind, CompletionItemKind>> = {
  key: CompletionItemKind.Property,
  word: CompletionItemKind.EnumMember,
  entry: CompletionItemKind.Reference,
  file: CompletionItemKind.File,
  value: CompletionItemKind.Value,
  heading: CompletionItemKind.Reference,
  block: CompletionItemKind.Class,
  snippet: CompletionItemKind.Snippet,
}

/** An offer for the protocol, at its rank among all. */
export function asCompletionItem(offer: Offer, rank: number, positions: TextPositions): CompletionItem {
  const { label, kind, text, span, sought, detail, isDeprecated, commas } = offer
  return {
    label,
    kind: KINDS[kind],
    filterText: sought,
    sortText: String(rank).padStart(6, '0'),
    data: rank,
    textEdit: { range: positions.rangeOf(span), newText: text },
    ...(commas
      ? { additionalTextEdits: commas.map((one) => ({ range: positions.rangeOf(one.span), newText: one.text })) }
      : {}),
    ...(detail === undefined ? {} : { detail }),
    ...(isDeprecated ? { tags: [CompletionItemTag.Deprecated] } : {}),
  }
}

const SYMBOLS: Readonly<Record<DocumentPart['kind'], SymbolKind>> = {
  entry: SymbolKind.Object,
  key: SymbolKind.Property,
  heading: SymbolKind.String,
}

export const asDocumentSymbol = (
  { name, kind, span, range, parts }: DocumentPart,
  positions: TextPositions,
): DocumentSymbol => ({
  name: name === '' ? '""' : name,
  kind: SYMBOLS[kind],
  range: positions.rangeOf(range),
  selectionRange: positions.rangeOf(span),
  children: parts.map((one) => asDocumentSymbol(one, positions)),
})

/** A change as an edit of the workspace: texts first, as they are, then files that go elsewhere. */
export function asWorkspaceEdit({ steps }: Change, places: ProtocolPlaces): WorkspaceEdit {
  const { uriOf, positionsIn, versionOf } = places
  const edits = groupBy(
    steps.filter((step) => step.kind === 'edit'),
    ({ file }) => file,
  )
  const texts = [...edits].map(
    ([file, own]): TextDocumentEdit => ({
      textDocument: { uri: uriOf(file), version: versionOf(file) },
      edits: own.map(({ span, text }) => ({ range: positionsIn(file).rangeOf(span), newText: text })),
    }),
  )
  const files = steps.flatMap((step) => asFileOperations(step, places))
  return { documentChanges: [...texts, ...files] }
}

/** What becomes of the file of a step. */
function asFileOperations(step: ChangeStep, { uriOf }: ProtocolPlaces): NonNullable<WorkspaceEdit['documentChanges']> {
  switch (step.kind) {
    case 'edit':
      return []
    case 'make': {
      const uri = uriOf(step.file)
      const start = { line: 0, character: 0 }
      const edits = [{ range: { start, end: start }, newText: step.text }]
      return [
        { kind: 'create', uri },
        { textDocument: { uri, version: null }, edits },
      ]
    }
    case 'move':
      return [{ kind: 'rename', oldUri: uriOf(step.file), newUri: uriOf(step.to) }]
    case 'delete':
      return [{ kind: 'delete', uri: uriOf(step.file) }]
  }
}

/** The lines that can be folded, of a document by its parts. */
export const asFoldingRanges = (parts: readonly DocumentPart[], positions: TextPositions): FoldingRange[] =>
  parts.flatMap(({ range, parts: inner }) => {
    const { start, end } = positions.rangeOf(range)
    const own = end.line > start.line ? [{ startLine: start.line, endLine: end.line }] : []
    return [...own, ...asFoldingRanges(inner, positions)]
  })

/** An action for the protocol: with its edits, or with the request of a change that is planned when it is chosen. */
export function asCodeAction(
  { title, isPreferred, diagnostic, effect }: CodeAction,
  { uri, version, positions, problem }: ActionContext,
): ProtocolAction {
  const common = {
    title,
    kind: diagnostic ? CodeActionKind.QuickFix : CodeActionKind.RefactorExtract,
    ...(isPreferred ? { isPreferred } : {}),
    ...(diagnostic ? { diagnostics: [problem(diagnostic)] } : {}),
  }
  if ('request' in effect) return { ...common, data: { uri, request: effect.request } }
  const edits = effect.edits.map(({ span, text }) => ({ range: positions.rangeOf(span), newText: text }))
  return { ...common, edit: { documentChanges: [{ textDocument: { uri, version }, edits }] } }
}

/** The document that an action is about. */
export interface ActionContext {
  readonly uri: string
  readonly version: number | null
  readonly positions: TextPositions
  problem(diagnostic: Diagnostic): ProtocolDiagnostic
}
