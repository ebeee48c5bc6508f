import type { BodyReader } from '../../body/body-reader.ts'
import type { ParsedBody } from '../../body/parsed-body.ts'
import { isFault } from '../../diagnostics/diagnostic.ts'
import type { AssignedFile, CollectionFiles } from '../../find/assign-files.ts'
import type { Host } from '../../host/host.ts'
import { createDocument, type ReadDocument, type ReadResult, type SourceText } from '../../read/document.ts'
import { formatOf } from '../../read/formats.ts'
import type { CollectionModel, Model } from '../../schema/model.ts'
import type { AssetReader } from '../assets.ts'
import type { FileResult } from '../check-file.ts'
import type { FileReason } from '../file-account.ts'
import type { FileReader } from '../file-reader.ts'
import { type AskedAsset, type FileRecord, type Restoring, restoreFile } from './file-record.ts'
import { writeModelText } from './model-text.ts'
import { RememberedBody } from './remembered-body.ts'
import type { SiteMemory } from './site-memory.ts'

/** What is recalled of a file. */
export interface Recalled {
  /** Undefined where the file has to be checked. */
  readonly result?: FileResult
  /** The content of the file, where it had to be read, and its digest. */
  readonly bytes?: Uint8Array | undefined
  readonly digest?: string
}

/** A file that was checked. */
interface CheckedFile {
  /** Of the text that was checked; undefined where nothing could be read. */
  readonly digest: string | undefined
  readonly result: FileResult
  readonly assets: readonly AskedAsset[]
}

/** The memory of the files of one collection. */
export interface CollectionMemory {
  recall(assigned: AssignedFile): Recalled
  /** True where the result depends on other files. */
  asksForFiles(assigned: AssignedFile): boolean
  remember(assigned: AssignedFile, checked: CheckedFile): void
}

/** What the results of a collection's files depend on, beside their content. */
interface MemoryContext {
  readonly host: Host
  readonly model: Model
  readonly memory: SiteMemory
  readonly code: string | undefined
  readonly growing: ReadonlySet<string>
  readonly asset: AssetReader
  readonly source: SourceText | undefined
  readonly bodies: BodyReader
  readonly readFile: FileReader
}

/** Makes the memory of a collection. */
export function createCollectionMemory(found: CollectionFiles, context: MemoryContext): CollectionMemory {
  const { host, model, memory, asset, source } = context
  const { collection } = found
  const scope = scopeOf(found, context)
  const fileOf = (path: string): string => source?.file ?? `${model.content}/${path}`
  const keyOf = ({ path, named }: AssignedFile, digest: string): string =>
    host.digest([scope, path, named, digest].join('\n'))
  if (scope !== undefined) memory.state.setScope(collection.name, scope)
  /** Why a file has to be checked. */
  const findReason = (file: string, digest: string, isKept: boolean): FileReason => {
    const last = memory.state.lastOf(file, collection.name)
    if (last.digest === undefined) return 'first'
    if (last.digest !== digest) return 'content'
    if (last.scope !== scope) return 'configuration'
    return isKept ? 'files' : 'first'
  }
  const isAnswered = ({ path, from, answer }: AskedAsset): boolean =>
    JSON.stringify(asset(path, from)) === JSON.stringify(answer)
  return {
    recall(assigned) {
      const file = fileOf(assigned.path)
      if (scope === undefined) return {}
      const known = memory.files.get(file)
      const isSame = !source && known?.scope === scope && memory.state.isUntouched(file)
      if (known && isSame && known.assets.every(isAnswered)) return { result: known.result }
      const seen = source ? { digest: host.digest(source.text) } : memory.state.digestOf(file)
      if (!seen) return {}
      const key = keyOf(assigned, seen.digest)
      if (known?.key === key && known.assets.every(isAnswered)) return { result: known.result }
      const record = memory.store.get(key) as FileRecord | undefined
      if (!record?.assets.every(isAnswered)) {
        memory.reasons.set(file, findReason(file, seen.digest, record !== undefined))
        return seen
      }
      memory.reasons.set(file, 'unchanged')
      const mark = markOf(key)
      const result = restoreFile(record, createRestoring(assigned, collection, { ...context, mark, key }))
      memory.files.set(file, { scope, key, result, assets: record.assets, mark, isKept: true })
      return { result }
    },
    asksForFiles: ({ path }) => (memory.files.get(fileOf(path))?.assets.length ?? 1) > 0,
    remember(assigned, { digest, result, assets }) {
      const file = fileOf(assigned.path)
      if (scope === undefined || digest === undefined || result.diagnostics.some(isFault)) {
        memory.files.delete(file)
        return
      }
      const key = keyOf(assigned, digest)
      for (const { body } of result.entries) if (body?.parsed instanceof RememberedBody) body.parsed.key = key
      memory.files.set(file, { scope, key, result, assets, mark: markOf(key), isKept: false })
    },
  }
}

/** No text holds a digest of itself. */
const markOf = (key: string): string => `pending ${key} `

function scopeOf(
  { collection, base }: CollectionFiles,
  { host, model, code, growing }: MemoryContext,
): string | undefined {
  const { rules: _, derived, source: __, ...settings } = collection
  const fields = Object.entries(derived).map(([name, { field }]) => [name, field])
  const { content, locales, blocks } = model
  const { text, hasCode } = writeModelText({ settings, fields, base, content, locales, blocks, growing: [...growing] })
  return hasCode && code === undefined ? undefined : host.digest([host.version(), hasCode ? code : '', text].join('\n'))
}

function createRestoring(
  { path }: AssignedFile,
  { csv }: CollectionModel,
  { model, source, readFile, bodies, mark, key }: MemoryContext & { readonly mark: string; readonly key: string },
): Restoring {
  const file = source?.file ?? `${model.content}/${path}`
  const readAgain = (): ReadResult | undefined => {
    const text = source ?? readFile(path)
    return 'text' in text ? formatOf(path)?.read(text, csv ?? {}) : undefined
  }
  return {
    file,
    mark,
    readText: (text) => bodies.readMarkdown({ text, file, startOffset: 0 }),
    createDocument() {
      let document: ReadDocument | undefined
      return () => {
        document ??= readAgain()?.document ?? createDocument({}, () => ({ span: [0, 0] }))
        return document
      }
    },
    readBody({ format, startOffset, linesAbove, known }) {
      const read = (): ParsedBody | undefined => {
        const body = { text: '', startOffset, ...readAgain()?.body, file }
        return format === 'mdx' ? bodies.readMdx(body) : bodies.readMarkdown(body)
      }
      return {
        file,
        format,
        startOffset,
        linesAbove,
        parsed: new RememberedBody(known, { read, load: bodies.loadMdx, key }),
      }
    },
  }
}
