import { fileURLToPath } from 'node:url'
import {
  type CancellationToken,
  CodeActionKind,
  type CodeActionParams,
  type Connection,
  type InitializeParams,
  type InitializeResult,
  type InlayHint,
  type InlayHintParams,
  LSPErrorCodes,
  type ReferenceParams,
  type RenameParams,
  ResponseError,
  SymbolKind,
  TextDocumentSyncKind,
  type WorkspaceEdit,
} from 'vscode-languageserver/node'
import type { Diagnostic, Place } from '../diagnostics/diagnostic.ts'
import type { ChangeRequest } from '../engine/change-request.ts'
import { findDocumentLinks, findInlayLabels } from './annotate.ts'
import { findCodeActions } from './code-actions.ts'
import { complete } from './complete.ts'
import type { Surrounding } from './configuration-names.ts'
import type { EditorSite } from './editor-site.ts'
import { hover } from './hover.ts'
import type { Position } from './look-at.ts'
import { findDefinition, findReferences } from './navigate.ts'
import type { Offer } from './offer.ts'
import { createOpenDocuments } from './open-documents.ts'
import {
  asCodeAction,
  asCompletionItem,
  asDocumentSymbol,
  asFoldingRanges,
  asLocation,
  asWorkspaceEdit,
  type ProtocolPlaces,
} from './protocol-answers.ts'
import { findRenaming, renameRequest } from './rename.ts'
import { findEntries, hasInOrder, outline } from './symbols.ts'
import type { PositionEncoding, ProtocolPosition, TextPositions } from './text-positions.ts'
import { createWorkspace, type WorkspaceFile, type WorkspaceHosts } from './workspace.ts'

/** The surroundings of a language server. */
export interface ServerOptions extends WorkspaceHosts {
  readonly version: string
  /** The address of the explanation of a code. */
  explain(code: string): string
  /** The present moment as an instant in UTC. */
  clock(): string
}

interface TextPositionParams {
  readonly textDocument: { readonly uri: string }
  readonly position: ProtocolPosition
}

/** What an answer is made of. */
interface Asked {
  readonly file: WorkspaceFile
  readonly site: EditorSite
  readonly around: Surrounding
  readonly positions: TextPositions
  readonly places: ProtocolPlaces
}

const positionIn = (file: WorkspaceFile, position: ProtocolPosition): Position => ({
  file: file.file,
  text: file.text(),
  offset: file.positions().offsetAt(position),
})

/** Of more than so many offers only those are given that what is typed may mean. */
const MOST_OFFERS = 500

/** The offers that are given: of very many those that have what is typed, in order. */
function fittingOffers(offers: readonly Offer[], { text, offset }: Position): readonly Offer[] {
  if (offers.length <= MOST_OFFERS) return offers
  const start = offers[0]?.span[0] ?? offset
  const typed = text.slice(start, offset).replace(/^["']/, '').toLowerCase()
  const fitting = offers.filter(({ sought }) => hasInOrder(sought.toLowerCase(), typed))
  const nearest = fitting.filter(({ sought }) => sought.toLowerCase().includes(typed))
  return [...new Set([...nearest, ...fitting])].slice(0, MOST_OFFERS)
}

/** Answers a client over a connection, by the Language Server Protocol 3.17, until it says that it ends. */
export function serve(connection: Connection, options: ServerOptions): Promise<void> {
  let encoding: PositionEncoding = 'utf-16'
  let rootUris: readonly string[] = []
  const documents = createOpenDocuments(() => encoding)
  const workspace = createWorkspace(options, {
    documents,
    encoding: () => encoding,
    publish: (params) => void connection.sendDiagnostics(params),
    explain: options.explain,
  })

  connection.onInitialize((params: InitializeParams): InitializeResult => {
    const offered = params.capabilities.general?.positionEncodings ?? []
    encoding = offered[0] === 'utf-8' ? 'utf-8' : 'utf-16'
    const folders = params.workspaceFolders?.map(({ uri }) => uri) ?? (params.rootUri ? [params.rootUri] : [])
    rootUris = folders
    return {
      serverInfo: { name: 'zinc-pantry', version: options.version },
      capabilities: {
        positionEncoding: encoding,
        textDocumentSync: { openClose: true, change: TextDocumentSyncKind.Incremental, save: true },
        completionProvider: {
          resolveProvider: true,
          triggerCharacters: [' ', ':', '"', "'", '/', '(', '#', '[', '{', '<', '=', '.', ','],
        },
        hoverProvider: true,
        definitionProvider: true,
        referencesProvider: true,
        renameProvider: { prepareProvider: true },
        codeActionProvider: {
          codeActionKinds: [CodeActionKind.QuickFix, CodeActionKind.RefactorExtract],
          resolveProvider: true,
        },
        documentSymbolProvider: true,
        workspaceSymbolProvider: true,
        documentLinkProvider: {},
        inlayHintProvider: true,
        foldingRangeProvider: true,
        workspace: { workspaceFolders: { supported: true, changeNotifications: true } },
      },
    }
  })
  connection.onInitialized(() => {
    for (const uri of rootUris) workspace.addFolder(fileURLToPath(uri))
    connection.workspace.onDidChangeWorkspaceFolders(({ added, removed }) => {
      for (const { uri } of added) workspace.addFolder(fileURLToPath(uri))
      for (const { uri } of removed) workspace.removeFolder(fileURLToPath(uri))
    })
  })

  connection.onDidOpenTextDocument(({ textDocument: { uri, version, text } }) => {
    documents.open(uri, version, text)
    workspace.textChanged(uri)
  })
  connection.onDidChangeTextDocument(({ textDocument: { uri, version }, contentChanges }) => {
    documents.change(uri, version ?? 0, contentChanges)
    workspace.textChanged(uri)
  })
  connection.onDidCloseTextDocument(({ textDocument: { uri } }) => {
    documents.close(uri)
    workspace.textChanged(uri)
  })

  /** A handler about a document: with its site, once all that was typed is checked; null where there is none. */
  const aboutDocument =
    <Params extends { readonly textDocument: { readonly uri: string } }, Answer>(
      answer: (asked: Asked, params: Params) => Answer | Promise<Answer>,
      { isWaiting = true }: { readonly isWaiting?: boolean } = {},
    ) =>
    async (params: Params, token: CancellationToken): Promise<Answer | null | ResponseError> => {
      const file = workspace.fileOf(params.textDocument.uri)
      const site = await (isWaiting ? file?.folder.settled() : file?.folder.ready())
      // What was cancelled while others were answered is not begun.
      if (token.isCancellationRequested) return new ResponseError(LSPErrorCodes.RequestCancelled, 'Cancelled')
      if (!file || !site) return null
      const { folder } = file
      const around = { configurationFile: folder.configurationFile, textOf: folder.textOf }
      return answer({ file, site, around, positions: file.positions(), places: workspace.placesOf(folder) }, params)
    }
  /** The edit of a change that is planned and proved. */
  const changeFor = async ({ folder }: WorkspaceFile, request: ChangeRequest): Promise<WorkspaceEdit> => {
    const answer = await folder.plan(request)
    if (!answer) throw new ResponseError(LSPErrorCodes.RequestFailed, 'The configuration has errors')
    const held = 'refused' in answer ? [answer.refused, answer.help ?? ''] : workspace.whyHeld(answer)
    if ('refused' in answer || held.length > 0)
      throw new ResponseError(LSPErrorCodes.RequestFailed, held.filter((one) => one !== '').join('. '))
    return asWorkspaceEdit(answer.change, workspace.placesOf(folder))
  }

  /** What was offered last, whose help may be asked for. */
  let last: readonly Offer[] = []
  connection.onCompletion(
    aboutDocument(
      ({ file, site, positions }, { position }: TextPositionParams) => {
        const at = positionIn(file, position)
        const all = complete(site, at, options.clock())
        const offers = fittingOffers(all, at)
        last = offers
        const items = offers.map((offer, rank) => asCompletionItem(offer, rank, positions))
        return { isIncomplete: offers.length < all.length, items }
      },
      { isWaiting: false },
    ),
  )
  connection.onCompletionResolve((item) => {
    const offer = last[item.data as number]
    const value = offer?.label === item.label ? offer.help?.() : undefined
    return value === undefined ? item : { ...item, documentation: { kind: 'markdown', value } }
  })
  connection.onHover(
    aboutDocument(async ({ file, site, around, positions }, { position }: TextPositionParams) => {
      const found = await hover(site, positionIn(file, position), around)
      return found
        ? { contents: { kind: 'markdown' as const, value: found.words }, range: positions.rangeOf(found.span) }
        : null
    }),
  )
  connection.onDefinition(
    aboutDocument(async ({ file, site, around, places }, { position }: TextPositionParams) => {
      const found = await findDefinition(site, positionIn(file, position), around)
      return found.map((place) => asLocation(place, places))
    }),
  )
  connection.onReferences(
    aboutDocument(async ({ file, site, around, places }, { position, context }: ReferenceParams) => {
      const at = positionIn(file, position)
      const found = await findReferences(site, at, around)
      const declared = context.includeDeclaration ? [] : await findDefinition(site, at, around)
      const keyOf = (place: Place): string => `${place.file} ${place.span.join()}`
      const left = new Set(declared.map(keyOf))
      return found.filter((place) => !left.has(keyOf(place))).map((place) => asLocation(place, places))
    }),
  )
  connection.onPrepareRename(
    aboutDocument(async ({ file, site, around, positions }, { position }: TextPositionParams) => {
      const found = await findRenaming(site, positionIn(file, position), around)
      return found ? { range: positions.rangeOf(found.span), placeholder: found.name } : null
    }),
  )
  connection.onRenameRequest(
    aboutDocument(async ({ file, site, around }, { position, newName }: RenameParams) => {
      const found = await findRenaming(site, positionIn(file, position), around)
      if (!found) throw new ResponseError(LSPErrorCodes.RequestFailed, 'Nothing here can be renamed')
      return changeFor(file, renameRequest(found, newName))
    }),
  )
  connection.onCodeAction(
    aboutDocument(
      async ({ file, site, around, positions, places }, { textDocument: { uri }, range }: CodeActionParams) => {
        const span = [positions.offsetAt(range.start), positions.offsetAt(range.end)] as const
        const found = await findCodeActions(site, { file: file.file, text: file.text() }, { span, around })
        const problem = (one: Diagnostic) => workspace.diagnosticOf(one, file.folder)
        return found.map((one) => asCodeAction(one, { uri, version: places.versionOf(file.file), positions, problem }))
      },
    ),
  )
  connection.onCodeActionResolve(async (action) => {
    const { uri, request } = (action.data ?? {}) as { readonly uri?: string; readonly request?: ChangeRequest }
    const file = uri === undefined ? undefined : workspace.fileOf(uri)
    return file && request ? { ...action, edit: await changeFor(file, request) } : action
  })
  connection.onDocumentSymbol(
    aboutDocument(async ({ file, site, positions }) =>
      (await outline(site, { file: file.file, text: file.text() })).map((part) => asDocumentSymbol(part, positions)),
    ),
  )
  connection.onFoldingRanges(
    aboutDocument(async ({ file, site, positions }) =>
      asFoldingRanges(await outline(site, { file: file.file, text: file.text() }), positions),
    ),
  )
  connection.onWorkspaceSymbol(async ({ query }) =>
    (await workspace.sites()).flatMap(({ folder, site }) =>
      findEntries(site, query).map(({ name, detail, place }) => ({
        ...{ name, kind: SymbolKind.Object, containerName: detail },
        location: asLocation(place, workspace.placesOf(folder)),
      })),
    ),
  )
  connection.onDocumentLinks(
    aboutDocument(({ file, site, positions, places }) =>
      findDocumentLinks(site, { file: file.file, text: file.text() }).map(({ span, target, words }) => ({
        ...{ range: positions.rangeOf(span), target: places.uriOf(target.file), tooltip: words },
      })),
    ),
  )
  connection.languages.inlayHint.on(
    aboutDocument(({ file, site, positions }, { range }: InlayHintParams): InlayHint[] =>
      findInlayLabels(site, { file: file.file, text: file.text() })
        .map(({ offset, label }) => ({ position: positions.positionAt(offset), label, paddingLeft: true }))
        .filter(({ position: { line } }) => line >= range.start.line && line <= range.end.line),
    ),
  )
  return new Promise((resolve) => {
    connection.onShutdown(() => workspace.close())
    connection.onExit(() => resolve())
    connection.listen()
  })
}
