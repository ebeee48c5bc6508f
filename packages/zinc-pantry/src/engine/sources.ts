import { createDiagnostic, type Diagnostic, type Place } from '../diagnostics/diagnostic.ts'
import { describeValue } from '../diagnostics/words.ts'
import { type Host, HostError, type HttpAnswer } from '../host/host.ts'
import { decodeText } from '../read/decode.ts'
import type { SourceText } from '../read/document.ts'
import type { CollectionModel } from '../schema/model.ts'
import { pointerSteps } from '../schema/pointer.ts'
import type { RemoteSource, SourceFunction } from '../schema/remote.ts'
import { keepAnswer, keepText, readKept } from './kept-answer.ts'
import { redact, secretsOf, showAddress } from './redact.ts'

/** The folder of kept answers, beside the configuration. */
export const KEPT_FOLDER = '.pantry'

/** Where the answer of a collection's source is kept. */
export const keptFile = (collection: string): string => `${KEPT_FOLDER}/${collection}.json`

const MAX_BYTES = 32 * 2 ** 20
const FIRST_PAUSE_MS = 250

/** The entries of a collection that are no files, as JSON text. */
export interface LoadedSource {
  readonly text: SourceText | undefined
  readonly diagnostics: readonly Diagnostic[]
}

/** Gets the entries of a collection from its source and keeps them as a file, so that they have places. */
export async function loadSource(host: Host, { name, source }: CollectionModel, place: Place): Promise<LoadedSource> {
  const file = keptFile(name)
  if (typeof source === 'function') return callSource(host, source, { file, place })
  return fetchSource(host, source as RemoteSource, { file, place })
}

interface Keeping {
  /** Of the kept answer, relative to the root. */
  readonly file: string
  /** The setting that names the source. */
  readonly place: Place
}

async function callSource(host: Host, source: SourceFunction, { file, place }: Keeping): Promise<LoadedSource> {
  try {
    const given = await host.withinLimit(async () => source())
    const text = JSON.stringify(given, null, 2)
    if (text === undefined) throw new Error('it gave nothing')
    keepText(host, file, `${text}\n`)
    return { text: { file, text: `${text}\n` }, diagnostics: [] }
  } catch (error) {
    const reason = (error instanceof Error ? error.message : String(error)).split('\n')[0] ?? ''
    return { text: undefined, diagnostics: [createDiagnostic('source-failed', place, { reason })] }
  }
}

async function fetchSource(host: Host, source: RemoteSource, keeping: Keeping): Promise<LoadedSource> {
  const { file, place } = keeping
  const { headers, secrets, diagnostics } = readHeaders(host, source, place)
  if (diagnostics.length > 0) return { text: undefined, diagnostics }
  const shown = showAddress(source.url)
  const kept = readKept(host, file, source.url)
  const conditions = {
    ...(kept?.etag ? { 'if-none-match': kept.etag } : {}),
    ...(kept?.modified ? { 'if-modified-since': kept.modified } : {}),
  }
  const asked = await ask(host, source, { ...headers, ...conditions })
  if ('reason' in asked) {
    const reason = redact(asked.reason, [...secretsOf(source.url), ...secrets])
    return fallBack(kept?.text, keeping, { code: 'source-unreachable', parameters: { source: shown, reason } })
  }
  const { answer } = asked
  if (answer.status === 304 && kept) return { text: { file, text: kept.text }, diagnostics: [] }
  if (answer.status < 200 || answer.status > 299)
    return fallBack(kept?.text, keeping, {
      code: 'source-status',
      parameters: { source: shown, status: answer.status },
    })
  return acceptAnswer(host, answer, { source, keeping })
}

function acceptAnswer(
  host: Host,
  answer: HttpAnswer,
  { source, keeping: { file, place } }: { source: RemoteSource; keeping: Keeping },
): LoadedSource {
  const decoded = decodeText(file, answer.body)
  if ('diagnostic' in decoded) return { text: undefined, diagnostics: [decoded.diagnostic] }
  const { text } = decoded
  const value = parseJson(text)
  // The reader says where and why; what was kept stays, since it is of more use.
  if (!value) return { text: { file, text }, diagnostics: [] }
  const unmet = findUnmet(value.parsed, source)
  if (unmet) return { text: undefined, diagnostics: [createDiagnostic('source-unexpected', place, unmet)] }
  keepAnswer(host, file, { url: source.url, text, headers: answer.headers })
  return { text: { file, text }, diagnostics: [] }
}

/** The kept answer with a warning, or an error where there is none. */
function fallBack(
  kept: string | undefined,
  { file, place }: Keeping,
  { code, parameters }: { code: 'source-unreachable' | 'source-status'; parameters: Record<string, unknown> },
): LoadedSource {
  const diagnostic = createDiagnostic(code, place, { ...parameters, kept: kept !== undefined } as never)
  if (kept === undefined) return { text: undefined, diagnostics: [diagnostic] }
  return { text: { file, text: kept }, diagnostics: [{ ...diagnostic, severity: 'warning' }] }
}

/** No header may have a line break or another control character, nor one that takes more than a byte. */
const UNFIT = /[^\t\x20-\x7e\x80-\xff]/

/** The headers of a question, their variables filled in, and what of them is not to be shown. */
function readHeaders(
  host: Host,
  { headers = {} }: RemoteSource,
  place: Place,
): { headers: Record<string, string>; secrets: string[]; diagnostics: Diagnostic[] } {
  const diagnostics: Diagnostic[] = []
  const secrets: string[] = []
  const filled = Object.entries(headers).map(([header, value]) => {
    const text = value.replace(/\$([A-Za-z_]\w*)/g, (_, name: string) => {
      const variable = host.environment(name)
      if (variable === undefined) diagnostics.push(createDiagnostic('source-variable', place, { name, header }))
      else secrets.push(variable)
      return variable ?? ''
    })
    if (UNFIT.test(text)) diagnostics.push(createDiagnostic('source-header', place, { header }))
    return [header.toLowerCase(), text] as const
  })
  return { headers: Object.fromEntries(filled), secrets, diagnostics }
}

/** Asks, and asks again where that may help. */
async function ask(
  host: Host,
  source: RemoteSource,
  headers: Record<string, string>,
): Promise<{ answer: HttpAnswer } | { reason: string }> {
  const { url, timeoutMs = 10_000, retries = 2 } = source
  let reason = ''
  for (let attempt = 0; attempt <= retries; attempt++) {
    if (attempt > 0) await host.wait(FIRST_PAUSE_MS * 2 ** (attempt - 1))
    try {
      const answer = await host.fetch({ url, headers, accept: 'application/json', timeoutMs, maxBytes: MAX_BYTES })
      if ((answer.status < 500 && answer.status !== 429) || attempt === retries) return { answer }
    } catch (error) {
      if (!(error instanceof HostError)) throw error
      reason = error.message
    }
  }
  return { reason }
}

function parseJson(text: string): { parsed: unknown } | undefined {
  try {
    return { parsed: JSON.parse(text) }
  } catch {
    return undefined
  }
}

function findUnmet(
  value: unknown,
  { require = {} }: RemoteSource,
): { pointer: string; seen: string; expected: string } | undefined {
  for (const [pointer, expected] of Object.entries(require)) {
    let at: unknown = value
    for (const step of pointerSteps(pointer))
      at =
        typeof at === 'object' && at !== null && Object.hasOwn(at, step)
          ? (at as Record<string, unknown>)[step]
          : undefined
    if (at !== expected) return { pointer, seen: describeValue(at), expected: describeValue(expected) }
  }
  return undefined
}
