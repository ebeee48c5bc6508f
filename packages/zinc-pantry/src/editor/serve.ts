import { fileURLToPath } from 'node:url'
import {
  CodeActionKind,
  type Connection,
  type InitializeParams,
  type InitializeResult,
  type InlayHint,
  LSPErrorCodes,
  ResponseError,
  SymbolKind,
  TextDocumentSyncKind,
} from 'vscode-languageserver/node'
import type { ChangeRequest } from '../engine/change-site.ts'
import { findDocumentLinks, findInlayLabels } from './annotate.ts'
import { findCodeActions } from './code-actions.ts'
import { complete } from './complete.ts'
import { hover } from './hover.ts'
import type { Position } from './look-at.ts'
import { findDefinition, findReferences } from './navigate.ts'
import { createOpenDocuments } from './open-documents.ts'
import { asCompletionItem, asDocumentSymbol, asLocation, asWorkspaceEdit } from './protocol-answers.ts'
import { findRenaming, renameRequest } from './rename.ts'
import { findEntries, outline } from './symbols.ts'
import type { PositionEncoding, ProtocolPosition } from './text-positions.ts'
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
        completionProvider: { triggerCharacters: [' ', ':', '"', "'", '/', '(', '#', '[', '{', '<', '=', '.', ','] },
        hoverProvider: true,
        definitionProvider: true,
        referencesProvider: true,
        renameProvider: { prepareProvider: true },
        codeActionProvider: { codeActionKinds: [CodeActionKind.QuickFix], resolveProvider: true },
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

  /** The file of a document, with the site that it belongs to. */
  const fileOf = (uri: string): WorkspaceFile | undefined => workspace.fileOf(uri)
  const positionOf = (file: WorkspaceFile, position: ProtocolPosition): Position => ({
    file: file.file,
    text: file.text(),
    offset: file.positions().offsetAt(position),
  })
  const configurationOf = ({ folder }: WorkspaceFile) => ({
    configurationFile: folder.configurationFile,
    textOf: folder.textOf,
  })

  connection.onCompletion(async ({ textDocument, position }: TextPositionParams) => {
    const file = fileOf(textDocument.uri)
    const site = await file?.folder.ready()
    if (!file || !site) return null
    const offers = complete(site, positionOf(file, position), options.clock())
    const positions = file.positions()
    return { isIncomplete: false, items: offers.map((offer, rank) => asCompletionItem(offer, rank, positions)) }
  })
  connection.onHover(async ({ textDocument, position }: TextPositionParams) => {
    const file = fileOf(textDocument.uri)
    const site = await file?.folder.settled()
    const found = file && site && (await hover(site, positionOf(file, position), configurationOf(file)))
    return found
      ? { contents: { kind: 'markdown', value: found.words }, range: file.positions().rangeOf(found.span) }
      : null
  })
  connection.onDefinition(async ({ textDocument, position }: TextPositionParams) => {
    const file = fileOf(textDocument.uri)
    const site = await file?.folder.settled()
    if (!file || !site) return null
    const found = await findDefinition(site, positionOf(file, position), configurationOf(file))
    return found.map((place) => asLocation(place, workspace.placesOf(file.folder)))
  })
  connection.onReferences(async ({ textDocument, position, context }) => {
    const file = fileOf(textDocument.uri)
    const site = await file?.folder.settled()
    if (!file || !site) return null
    const found = await findReferences(site, positionOf(file, position), configurationOf(file))
    const declared = context.includeDeclaration
      ? []
      : await findDefinition(site, positionOf(file, position), configurationOf(file))
    const isDeclared = (place: (typeof found)[number]): boolean =>
      declared.some((one) => one.file === place.file && one.span.join() === place.span.join())
    return found
      .filter((place) => !isDeclared(place))
      .map((place) => asLocation(place, workspace.placesOf(file.folder)))
  })
  connection.onPrepareRename(async ({ textDocument, position }) => {
    const file = fileOf(textDocument.uri)
    const site = await file?.folder.settled()
    const found = file && site && (await findRenaming(site, positionOf(file, position), configurationOf(file)))
    return found ? { range: file.positions().rangeOf(found.span), placeholder: found.name } : null
  })
  connection.onRenameRequest(async ({ textDocument, position, newName }) => {
    const file = fileOf(textDocument.uri)
    const site = await file?.folder.settled()
    const found = file && site && (await findRenaming(site, positionOf(file, position), configurationOf(file)))
    if (!file || !found) throw new ResponseError(LSPErrorCodes.RequestFailed, 'Nothing here can be renamed')
    return changeFor(file, renameRequest(found, newName))
  })
  /** The edit of a change that is planned and proved. */
  const changeFor = async ({ folder }: WorkspaceFile, request: ChangeRequest) => {
    const answer = await folder.plan(request)
    if (!answer) throw new ResponseError(LSPErrorCodes.RequestFailed, 'The configuration has errors')
    const refused = 'refused' in answer ? [answer.refused, answer.help] : workspace.whyHeld(answer)
    if (refused.length > 0) throw new ResponseError(LSPErrorCodes.RequestFailed, refused.filter(Boolean).join('. '))
    if ('refused' in answer) return null
    return asWorkspaceEdit(answer.change, workspace.placesOf(folder))
  }
  connection.onCodeAction(async ({ textDocument, range }) => {
    const file = fileOf(textDocument.uri)
    const site = await file?.folder.settled()
    if (!file || !site) return null
    const positions = file.positions()
    const span = [positions.offsetAt(range.start), positions.offsetAt(range.end)] as const
    const places = workspace.placesOf(file.folder)
    return findCodeActions(site, { file: file.file, text: file.text() }, span).map((action) => ({
      title: action.title,
      kind: CodeActionKind.QuickFix,
      isPreferred: action.isPreferred,
      diagnostics: [workspace.diagnosticOf(action.diagnostic, file.folder)],
      ...('edits' in action.effect
        ? {
            edit: {
              documentChanges: [
                {
                  textDocument: { uri: textDocument.uri, version: places.versionOf(file.file) },
                  edits: action.effect.edits.map((one) => ({ range: positions.rangeOf(one.span), newText: one.text })),
                },
              ],
            },
          }
        : { data: { uri: textDocument.uri, request: action.effect.request } }),
    }))
  })
  connection.onCodeActionResolve(async (action) => {
    const { uri, request } = (action.data ?? {}) as { readonly uri?: string; readonly request?: ChangeRequest }
    const file = uri === undefined ? undefined : fileOf(uri)
    const edit = file && request && (await changeFor(file, request))
    return edit ? { ...action, edit } : action
  })
  connection.onDocumentSymbol(async ({ textDocument }) => {
    const file = fileOf(textDocument.uri)
    const site = await file?.folder.ready()
    if (!file || !site) return null
    const positions = file.positions()
    return outline(site, { file: file.file, text: file.text() }).map((part) => asDocumentSymbol(part, positions))
  })
  connection.onFoldingRanges(async ({ textDocument }) => {
    const file = fileOf(textDocument.uri)
    const site = await file?.folder.ready()
    if (!file || !site) return null
    const positions = file.positions()
    const fold = (parts: ReturnType<typeof outline>): { startLine: number; endLine: number }[] =>
      parts.flatMap(({ range, parts: inner }) => {
        const { start, end } = positions.rangeOf(range)
        return [...(end.line > start.line ? [{ startLine: start.line, endLine: end.line }] : []), ...fold(inner)]
      })
    return fold(outline(site, { file: file.file, text: file.text() }))
  })
  connection.onWorkspaceSymbol(async ({ query }) =>
    (await workspace.sites()).flatMap(({ folder, site }) =>
      findEntries(site, query).map(({ name, detail, place }) => ({
        name,
        kind: SymbolKind.Object,
        containerName: detail,
        location: asLocation(place, workspace.placesOf(folder)),
      })),
    ),
  )
  connection.onDocumentLinks(async ({ textDocument }) => {
    const file = fileOf(textDocument.uri)
    const site = await file?.folder.settled()
    if (!file || !site) return null
    const positions = file.positions()
    const places = workspace.placesOf(file.folder)
    return findDocumentLinks(site, file.file).map(({ span, target, words }) => ({
      range: positions.rangeOf(span),
      target: places.uriOf(target.file),
      tooltip: words,
    }))
  })
  connection.languages.inlayHint.on(async ({ textDocument, range }): Promise<InlayHint[] | null> => {
    const file = fileOf(textDocument.uri)
    const site = await file?.folder.settled()
    if (!file || !site) return null
    const positions = file.positions()
    return findInlayLabels(site, { file: file.file, text: file.text() })
      .map(({ offset, label }) => ({
        position: positions.positionAt(offset),
        label,
        paddingLeft: true,
      }))
      .filter(({ position: { line } }) => line >= range.start.line && line <= range.end.line)
  })
  return new Promise((resolve) => {
    connection.onShutdown(() => workspace.close())
    connection.onExit(() => resolve())
    connection.listen()
  })
}
