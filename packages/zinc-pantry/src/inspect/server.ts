import { createHash, randomBytes, timingSafeEqual } from 'node:crypto'
import { readFileSync } from 'node:fs'
import { createServer, type IncomingMessage, type ServerResponse } from 'node:http'
import type { AddressInfo } from 'node:net'
import { fileURLToPath } from 'node:url'
import { WebSocketServer } from 'ws'
import type { Host } from '../host/host.ts'
import type { Calls } from './calls.ts'
import { type Asked, type RequestFacts, safetyHeaders, whyRefused } from './guard.ts'
import type { InspectedSite, SiteStatus } from './inspected-site.ts'
import { openInEditor } from './open-in-editor.ts'
import { pictureType } from './picture-type.ts'

/** The options of an inspector. */
export interface InspectorOptions {
  readonly host: Host
  /** Relative to the host's root. */
  readonly configurationFile: string
  /** The name of the site's folder, for people. */
  readonly name: string
  /** The port of this machine; where it is taken, one behind it. Default: 4780. */
  readonly port?: number
  /** Nothing can be written. Default: false. */
  readonly isReadOnly?: boolean
  /** The address of the site in development, shown beside its entries. Default: none. */
  readonly address?: () => string | undefined
}

/** An inspector that was started. */
export interface Inspector {
  /** Reads the site already, before the page asks for it. */
  prepare(): void
  /** The address to be opened, with the token that lets its page in: it is for the person who started it only. */
  readonly address: string
  close(): Promise<void>
}

/** The port where nothing else is said, and how many behind it are tried. */
const PORT = 4780
const MOST_PORTS = 30
/** Larger calls are refused. */
const MOST_BYTES = 16_000_000

/**
 * Starts an inspector: a page of this machine that shows a site and changes it. It is bound to the loopback address and closed to
 * all but who knows the token in its address. The site is read when the page is first asked for.
 *
 * @example
 * ```ts
 * import { createNodeHost } from 'zinc-pantry/engine'
 * import { startInspector } from 'zinc-pantry/inspect'
 *
 * const inspector = await startInspector({ host: createNodeHost('.'), configurationFile: 'pantry.config.ts', name: 'site' })
 * console.log(inspector.address)
 * await inspector.close()
 * ```
 */
export async function startInspector(options: InspectorOptions): Promise<Inspector> {
  const { host, configurationFile, name, isReadOnly = false, address } = options
  const token = randomBytes(24).toString('base64url')
  const isToken = createTokenTest(token)
  const sockets = new WebSocketServer({ noServer: true, maxPayload: 1_000 })
  const tell = (status: SiteStatus): void => {
    const text = JSON.stringify(status)
    for (const socket of sockets.clients) socket.send(text)
  }
  let opened: Promise<OpenedCalls> | undefined
  const open = (): Promise<OpenedCalls> => {
    opened ??= openCalls({
      ...{ host, configurationFile, name, isReadOnly, address: address?.() },
      ...{ onStatus: tell, openInEditor },
    })
    return opened
  }
  const server = createServer((request, response) => {
    answer(request, response).catch((error: unknown) => {
      if (!response.headersSent) response.writeHead(500)
      response.end(error instanceof Error ? error.message : '')
    })
  })
  const portOf = (): number => (server.address() as AddressInfo).port
  const answer = async (request: IncomingMessage, response: ServerResponse): Promise<void> => {
    const { pathname, searchParams } = new URL(request.url ?? '/', 'http://localhost')
    const asked: Asked = pathname.startsWith('/call/') ? 'call' : 'page'
    const site = address?.()
    const headers = safetyHeaders(request.headers.host ?? '', site === undefined ? [] : [new URL(site).origin])
    const end = (status: number, type: string, content: string | Uint8Array): void => {
      response.writeHead(status, { ...headers, 'content-type': type, 'cache-control': 'no-store' })
      response.end(request.method === 'HEAD' ? undefined : content)
    }
    const refused = whyRefused(factsOf(request), asked, portOf())
    if (refused !== undefined) return end(403, 'text/plain', refused)
    if (asked === 'call' || pathname === '/file') {
      if (!isToken(request.headers['x-pantry-token'])) return end(401, 'text/plain', 'The token is another one')
      if (pathname === '/file') {
        const path = searchParams.get('path') ?? ''
        const type = pictureType(path)
        const bytes = type === undefined ? undefined : await (await open()).readShown(path)
        return bytes && type !== undefined ? end(200, type, bytes) : end(404, 'text/plain', 'There is no such picture')
      }
      const text = await readBody(request)
      const parameters = text === undefined ? undefined : parseJson(text)
      if (parameters === undefined) return end(400, 'text/plain', 'A call takes JSON')
      const given = await (await open()).answer(pathname.slice('/call/'.length), parameters)
      return end(200, 'application/json', JSON.stringify(given ?? null))
    }
    const file = readPageFile(pathname)
    return file ? end(200, file.type, file.bytes) : end(404, 'text/plain', 'There is no such page')
  }
  server.on('upgrade', (request, socket, head) => {
    const protocols = (request.headers['sec-websocket-protocol'] ?? '').split(',').map((one) => one.trim())
    const isOwn = whyRefused(factsOf(request), 'news', portOf()) === undefined && isToken(protocols[1])
    if (!isOwn) {
      socket.end('HTTP/1.1 403 Forbidden\r\nConnection: close\r\n\r\n')
      return
    }
    sockets.handleUpgrade(request, socket, head, (client) => {
      client.on('error', () => client.terminate())
      void open().then(({ site }) => client.send(JSON.stringify(site.status())))
    })
  })
  await listen(server, options.port)
  return {
    address: `http://127.0.0.1:${portOf()}/#token=${token}`,
    prepare: () => void open(),
    async close() {
      for (const socket of sockets.clients) socket.terminate()
      server.closeAllConnections()
      await new Promise((resolve) => server.close(resolve))
      await (await opened)?.site.close()
    },
  }
}

/** A site that is inspected, and what it answers. */
interface OpenedCalls {
  readonly site: InspectedSite
  answer(name: string, parameters: unknown): Promise<unknown>
  readShown(path: string): Promise<Uint8Array | undefined>
}

/** Opens a site; the code for it is loaded now, so that the page is served at once. */
async function openCalls(
  options: Parameters<typeof import('./inspected-site.ts').inspectSite>[0],
): Promise<OpenedCalls> {
  const [{ inspectSite }, { answerCall, createCalls, readShown }] = await Promise.all([
    import('./inspected-site.ts'),
    import('./calls.ts'),
  ])
  const site = inspectSite(options)
  const calls: Calls = createCalls(site)
  return {
    site,
    answer: (name, parameters) => answerCall(calls, name, parameters),
    readShown: (path) => readShown(site, path),
  }
}

/** Listens on the loopback address, on the first port from one that is free. */
async function listen(server: ReturnType<typeof createServer>, wanted = PORT): Promise<void> {
  for (let port = wanted; ; port++) {
    const error = await new Promise<NodeJS.ErrnoException | undefined>((resolve) => {
      server.once('error', resolve)
      server.listen(port, '127.0.0.1', () => {
        server.off('error', resolve)
        resolve(undefined)
      })
    })
    if (!error) return
    if (error.code !== 'EADDRINUSE' || port >= wanted + MOST_PORTS) throw error
  }
}

const factsOf = ({ method = 'GET', headers }: IncomingMessage): RequestFacts => ({
  method,
  host: headers.host,
  origin: headers.origin,
  site: headers['sec-fetch-site'] as string | undefined,
  mode: headers['sec-fetch-mode'] as string | undefined,
})

/** Makes a test of tokens that takes as long for each. */
function createTokenTest(token: string): (given: unknown) => boolean {
  const digest = (text: string): Buffer => createHash('sha256').update(text).digest()
  const own = digest(token)
  return (given) => typeof given === 'string' && timingSafeEqual(digest(given), own)
}

async function readBody(request: IncomingMessage): Promise<string | undefined> {
  const chunks: Buffer[] = []
  let size = 0
  for await (const chunk of request as AsyncIterable<Buffer>) {
    size += chunk.length
    if (size > MOST_BYTES) return undefined
    chunks.push(chunk)
  }
  return Buffer.concat(chunks).toString('utf8')
}

function parseJson(text: string): unknown {
  try {
    return JSON.parse(text === '' ? '{}' : text)
  } catch {
    return undefined
  }
}

// From this file, and from the bundle that it is a part of.
const PAGE = new URL('../inspect/page/', import.meta.url)
const PAGE_TYPES: Readonly<Record<string, string>> = {
  html: 'text/html; charset=utf-8',
  js: 'text/javascript; charset=utf-8',
  css: 'text/css; charset=utf-8',
  svg: 'image/svg+xml',
}

/** A file of the page; every address that names none is the page itself, which shows what the address says. */
function readPageFile(pathname: string): { readonly type: string; readonly bytes: Uint8Array } | undefined {
  const name = /^\/assets\/([\w.-]+)$/.exec(pathname)?.[1]
  const path = name === undefined ? 'index.html' : `assets/${name}`
  if (name === undefined && /\.\w+$/.test(pathname)) return undefined
  try {
    const bytes = readFileSync(fileURLToPath(new URL(path, PAGE)))
    return { type: PAGE_TYPES[path.slice(path.lastIndexOf('.') + 1)] ?? 'application/octet-stream', bytes }
  } catch {
    return undefined
  }
}
