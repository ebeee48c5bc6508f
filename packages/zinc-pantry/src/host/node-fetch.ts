import { HostError, type HttpAnswer, type HttpRequest } from './host.ts'

/** Asks over HTTP with Node's own client. */
export async function fetchNode({ url, headers, timeoutMs, maxBytes }: HttpRequest): Promise<HttpAnswer> {
  try {
    const response = await fetch(url, { headers: { ...headers }, signal: AbortSignal.timeout(timeoutMs) })
    const body = await readBody(response, maxBytes)
    return { status: response.status, headers: Object.fromEntries(response.headers), body }
  } catch (error) {
    if (error instanceof HostError) throw error
    throw new HostError(reasonOf(error, timeoutMs))
  }
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
