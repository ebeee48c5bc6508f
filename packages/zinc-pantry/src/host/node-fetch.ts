import { HostError, type HttpAnswer, type HttpRequest } from './host.ts'

/** The number of redirects that are followed. */
const MOST_REDIRECTS = 5
const REDIRECTS = [301, 302, 303, 307, 308]

/** Asks over HTTP with Node's own client. */
export async function fetchNode(request: HttpRequest): Promise<HttpAnswer> {
  const { timeoutMs, maxBytes } = request
  try {
    const response = await follow(request, AbortSignal.timeout(timeoutMs))
    const body = await readBody(response, maxBytes)
    return { status: response.status, headers: Object.fromEntries(response.headers), body }
  } catch (error) {
    if (error instanceof HostError) throw error
    throw new HostError(reasonOf(error, timeoutMs))
  }
}

/** Asks an address, and those that it refers to. The headers of the site are for its own host and nobody else. */
async function follow({ url, headers, accept }: HttpRequest, signal: AbortSignal): Promise<Response> {
  let at = new URL(url)
  const { origin, username, password } = at
  // A name and a password in an address are a header by another name.
  const basic: Record<string, string> =
    username || password
      ? {
          authorization: `Basic ${Buffer.from(`${decodeURIComponent(username)}:${decodeURIComponent(password)}`).toString('base64')}`,
        }
      : {}
  for (let redirects = 0; redirects <= MOST_REDIRECTS; redirects++) {
    at.username = ''
    at.password = ''
    const own = at.origin === origin ? { ...basic, ...headers } : {}
    const response = await fetch(at, { headers: { accept, ...own }, redirect: 'manual', signal })
    const location = response.headers.get('location')
    if (!REDIRECTS.includes(response.status) || location === null) return response
    await response.body?.cancel()
    const next = new URL(location, at)
    if (!/^https?:$/.test(next.protocol)) throw new HostError('it refers to an address that is not http or https')
    if (at.protocol === 'https:' && next.protocol === 'http:')
      throw new HostError('it refers to an address that is not encrypted')
    at = next
  }
  throw new HostError('it refers to one address after the other')
}

async function readBody(response: Response, maxBytes: number): Promise<Uint8Array> {
  const chunks: Uint8Array[] = []
  let size = 0
  for await (const chunk of response.body ?? []) {
    size += chunk.length
    if (size > maxBytes) throw new HostError(`the answer has more than ${Math.round(maxBytes / 2 ** 20)} MB`)
    chunks.push(chunk)
  }
  return Buffer.concat(chunks)
}

const REASONS: Readonly<Record<string, string>> = {
  ECONNREFUSED: 'nobody answers there',
  ENOTFOUND: 'there is no such host',
  ECONNRESET: 'the connection was cut',
  UND_ERR_SOCKET: 'the connection was cut',
}

function reasonOf(error: unknown, timeoutMs: number): string {
  if (!(error instanceof Error)) return String(error)
  if (error.name === 'TimeoutError') return `no answer within ${timeoutMs / 1000} s`
  const { cause } = error as { cause?: { code?: string; message?: string } }
  return REASONS[cause?.code ?? ''] ?? cause?.message ?? error.message
}
