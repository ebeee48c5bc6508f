import { PassThrough } from 'node:stream'
import { pathToFileURL } from 'node:url'
import {
  CancellationTokenSource,
  createMessageConnection,
  StreamMessageReader,
  StreamMessageWriter,
} from 'vscode-jsonrpc/node'
import type { Host } from 'zinc-pantry/engine'
import { createNodeHost } from 'zinc-pantry/engine'
import { run } from '../dist/bundle/cli.js'

/** A place as the protocol has it. */
export interface ProtocolPosition {
  readonly line: number
  readonly character: number
}

export interface ProtocolRange {
  readonly start: ProtocolPosition
  readonly end: ProtocolPosition
}

/** What a test reads of a diagnostic. */
export interface ProtocolProblem {
  readonly range: ProtocolRange
  readonly code: string
  readonly message: string
  readonly severity: number
  readonly tags?: readonly number[]
  readonly codeDescription: { readonly href: string }
  readonly relatedInformation?: readonly { readonly message: string; readonly location: { readonly uri: string } }[]
}

/** What a test reads of a completion. */
export interface ProtocolOffer {
  readonly label: string
  readonly detail?: string
  readonly filterText: string
  readonly textEdit: { readonly range: ProtocolRange; readonly newText: string }
  readonly additionalTextEdits?: readonly { readonly range: ProtocolRange; readonly newText: string }[]
  readonly documentation?: { readonly value: string }
}

export interface ProtocolEdit {
  readonly documentChanges: readonly {
    readonly kind?: 'create' | 'rename' | 'delete'
    readonly textDocument?: { readonly uri: string }
    readonly edits?: readonly { readonly range: ProtocolRange; readonly newText: string }[]
    readonly oldUri?: string
    readonly newUri?: string
  }[]
}

/** An editor that knows nothing but the protocol, and has a language server of its own. */
export interface EditorClient {
  readonly capabilities: Readonly<Record<string, unknown>>
  uriOf(file: string): string
  open(file: string, text: string): void
  /** Types: replaces a part of the text of a document. */
  edit(file: string, start: number, end: number, text: string): void
  close(file: string): void
  textOf(file: string): string
  ask<Answer>(method: string, file: string, more?: object): Promise<Answer>
  /** Asks about the place of a text in a document; with `|` in it that is where the cursor is. */
  askAt<Answer>(method: string, file: string, mark: string, more?: object): Promise<Answer>
  /** Asks and takes it back at once. */
  cancelled(method: string, file: string, more: object): Promise<unknown>
  request<Answer>(method: string, parameters: unknown): Promise<Answer>
  notify(method: string, parameters: unknown): void
  /** The problems of a file, once all that was typed is checked. */
  problems(file: string): Promise<readonly ProtocolProblem[]>
  /** All problems that were published, by file. */
  published(): ReadonlyMap<string, readonly ProtocolProblem[]>
  /** Ends the server, and gives its exit code. */
  stop(): Promise<number>
}

/** The offset of a position in UTF-16 code units. */
export function offsetAt(text: string, { line, character }: ProtocolPosition): number {
  const lines = text.split(/(?<=\n)/)
  return lines.slice(0, line).join('').length + character
}

export function positionAt(text: string, offset: number): ProtocolPosition {
  const lines = text.slice(0, offset).split('\n')
  return { line: lines.length - 1, character: lines.at(-1)?.length ?? 0 }
}

/** A text with edits of the protocol made. */
export const withEdits = (
  text: string,
  edits: readonly { readonly range: ProtocolRange; readonly newText: string }[],
): string =>
  [...edits]
    .sort((a, b) => offsetAt(text, b.range.start) - offsetAt(text, a.range.start))
    .reduce(
      (now, { range, newText }) =>
        now.slice(0, offsetAt(text, range.start)) + newText + now.slice(offsetAt(text, range.end)),
      text,
    )

let running = 0
let exit = process.exit

/** A server ends its process when it is told to, which here is that of all other tests. */
function keepProcess(): void {
  if (running++ > 0) return
  exit = process.exit
  process.exit = () => undefined as never
}

function releaseProcess(): void {
  if (--running === 0) process.exit = exit
}

/** Starts a language server in the process and connects to it. */
export async function openEditor(
  root: string,
  {
    openHost = createNodeHost,
    capabilities = {},
    folders = [root],
  }: { openHost?(folder: string): Host; capabilities?: object; folders?: readonly string[] } = {},
): Promise<EditorClient> {
  const [input, output] = [new PassThrough(), new PassThrough()]
  keepProcess()
  const ended = run(['language-server', '--stdio'], {
    stdout: { write: () => undefined },
    stderr: { write: () => undefined },
    env: {},
    folder: root,
    stopped: async () => undefined,
    streams: { input, output },
    openHost,
  })
  const connection = createMessageConnection(new StreamMessageReader(output), new StreamMessageWriter(input))
  const problems = new Map<string, readonly ProtocolProblem[]>()
  const documents = new Map<string, { text: string; version: number }>()
  const uriOf = (file: string): string => pathToFileURL(`${root}/${file}`).href
  const fileOf = (uri: string): string => decodeURIComponent(uri.slice(pathToFileURL(root).href.length + 1))
  connection.onNotification(
    'textDocument/publishDiagnostics',
    ({ uri, diagnostics }) => void problems.set(fileOf(uri), diagnostics),
  )
  connection.listen()
  const answer = await connection.sendRequest<{ capabilities: Record<string, unknown> }>('initialize', {
    processId: null,
    rootUri: null,
    workspaceFolders: folders.map((folder) => ({ uri: pathToFileURL(folder).href, name: folder })),
    capabilities,
  })
  void connection.sendNotification('initialized', {})
  const client: EditorClient = {
    capabilities: answer.capabilities,
    uriOf,
    open(file, text) {
      documents.set(file, { text, version: 1 })
      void connection.sendNotification('textDocument/didOpen', {
        textDocument: { uri: uriOf(file), languageId: 'text', version: 1, text },
      })
    },
    edit(file, start, end, text) {
      const document = documents.get(file)
      if (!document) throw new Error(`${file} is not open`)
      const range = { start: positionAt(document.text, start), end: positionAt(document.text, end) }
      document.text = document.text.slice(0, start) + text + document.text.slice(end)
      document.version++
      void connection.sendNotification('textDocument/didChange', {
        textDocument: { uri: uriOf(file), version: document.version },
        contentChanges: [{ range, text }],
      })
    },
    close(file) {
      documents.delete(file)
      void connection.sendNotification('textDocument/didClose', { textDocument: { uri: uriOf(file) } })
    },
    textOf: (file) => documents.get(file)?.text ?? '',
    cancelled(method, file, more) {
      const source = new CancellationTokenSource()
      const answer = connection.sendRequest(
        `textDocument/${method}`,
        { textDocument: { uri: uriOf(file) }, ...more },
        source.token,
      )
      source.cancel()
      return answer
    },
    request: (method, parameters) => connection.sendRequest(method, parameters),
    notify: (method, parameters) => void connection.sendNotification(method, parameters),
    ask: (method, file, more = {}) =>
      connection.sendRequest(`textDocument/${method}`, { textDocument: { uri: uriOf(file) }, ...more }),
    askAt(method, file, mark, more = {}) {
      const text = client.textOf(file)
      const at = text.indexOf(mark.replace('|', '')) + Math.max(0, mark.indexOf('|'))
      return client.ask(method, file, { position: positionAt(text, at), ...more })
    },
    async problems(file) {
      await client.ask('documentLink', file)
      return problems.get(file) ?? []
    },
    published: () => problems,
    async stop() {
      await connection.sendRequest('shutdown')
      await connection.sendNotification('exit')
      const code = await ended
      releaseProcess()
      connection.dispose()
      return code
    },
  }
  return client
}
