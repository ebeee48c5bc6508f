import type { BodyReader } from '../../body/body-reader.ts'
import type { BodyText } from '../../body/markdown/markdown-body.ts'
import { isFault } from '../../diagnostics/diagnostic.ts'
import type { AssignedFile, CollectionFiles } from '../../find/assign-files.ts'
import type { Host } from '../../host/host.ts'
import { findResult, type KeptReads, keepResult, stands } from '../../memo/kept-results.ts'
import type { SharedResult } from '../../memo/shared-results.ts'
import type { CsvOptions } from '../../read/csv.ts'
import type { SourceText } from '../../read/document.ts'
import { type Format, formatOf, reopenText } from '../../read/formats.ts'
import type { AssetAnswer } from '../../schema/asset.ts'
import type { PatternMatcher } from '../../schema/check-run.ts'
import { bodyDemandsOf, type CollectionModel, type FileSettings, type Model } from '../../schema/model.ts'
import { outlineChecks } from '../../schema/outline.ts'
import { createWrittenPaths, type WrittenPaths } from '../../validate/written-paths.ts'
import type { AssetReader } from '../assets.ts'
import type { KnownBody } from '../bodies.ts'
import { type FileResult, readOptionsOf } from '../check-file.ts'
import type { FileReader } from '../file-reader.ts'
import type { FileReason } from '../file-reason.ts'
import { holdDocument, MANY_RECORDS, type RecentDocuments } from '../held-document.ts'
import { type FileRecord, type Restoring, restoreFile, writeFileRecord } from './file-record.ts'
import { digestModel } from './model-text.ts'
import { type KnownFields, openRechecks, type Rechecks } from './rechecks.ts'
import type { SiteMemory } from './site-memory.ts'

/** A file that was recalled, or that has to be checked. */
export interface Recalled {
  readonly assigned: AssignedFile
  /** Undefined where the file has to be checked. */
  readonly result?: FileResult
  /** Of its content, where it could be read. */
  readonly digest?: string
  /** Says all that its result depends on, where that can be said. */
  readonly key?: string
}

/** A file that an entry names, as it names it, and the file that it stands in. */
export interface AssetQuestion {
  readonly path: string
  readonly from: string
}

/** The reads of the result of a file: its content, and the facts of files that its entries name. */
export type FileQuestion = 'content' | AssetQuestion

export type FileAnswer = string | undefined | AssetAnswer

/** A file that was checked. */
interface CheckedFile {
  /** Of the text that was checked; undefined where nothing could be read. */
  readonly digest: string | undefined
  readonly result: FileResult
  /** The questions of its entries for other files, with the answers. */
  readonly assets: readonly (readonly [AssetQuestion, AssetAnswer])[]
}

/** The result of a file for other runs of the process, and its body with what is known of it. */
interface SharedFile {
  readonly result: FileResult
  readonly fields: KnownFields
  readonly body: KnownBody | undefined
}

/** The results of the files of one collection, kept from process to process. */
export interface FileCache {
  /** Says all that the results depend on beside the files; undefined where that cannot be said. */
  readonly scope: string | undefined
  /** Answers what the result of a file is made of. */
  answer(assigned: AssignedFile, question: FileQuestion): FileAnswer
  recall(assigned: AssignedFile, read: (question: FileQuestion) => FileAnswer): Recalled
  keep(recalled: Recalled, checked: CheckedFile): void
}

/** True for the same answers. */
export const isSameAnswer = (one: FileAnswer, other: FileAnswer): boolean =>
  one === other || (typeof one === 'object' && JSON.stringify(one) === JSON.stringify(other))

/** The surroundings of a collection's files. */
interface MemoryContext {
  readonly host: Host
  readonly model: Model
  readonly memory: SiteMemory
  readonly code: string | undefined
  readonly asset: AssetReader
  readonly source: SourceText | undefined
  readonly reader: BodyReader
  readonly readFile: FileReader
  readonly matches: PatternMatcher
  /** Large documents that were read again for places. */
  readonly recent: RecentDocuments
}

/** Opens what is kept of the files of a collection. */
export function openFileCache(found: CollectionFiles, context: MemoryContext): FileCache {
  const { host, model, memory, asset, source } = context
  const { collection } = found
  const rechecks = openRechecks(collection, context)
  /** All that results depend on beside the files and what the fields only take or refuse. */
  const outline = rechecks && outlineOf(found, context)
  const scope = outline === undefined ? undefined : `${outline} ${rechecks?.fields.id}`
  const written = createWrittenPaths(collection, model.blocks)
  const fileOf = (path: string): string => source?.file ?? `${model.content}/${path}`
  const keyOf = ({ path, named }: AssignedFile, digest: string): string =>
    host.digest([outline, path, named, digest].join('\n'))
  if (scope !== undefined) memory.state.setScope(collection.name, scope)
  /** Says all that the body of a file depends on, which is not what its fields do: an option of theirs leaves what was rendered. */
  let bodyScope: string | undefined
  const bodyKeyOf = ({ path }: AssignedFile, digest: string): (() => string) => {
    bodyScope ??= bodyScopeOf(found, context)
    return createLateDigest(host, [bodyScope, path, digest])
  }
  /** Why a file has to be checked. */
  const findReason = (file: string, digest: string, isKept: boolean): FileReason => {
    const last = memory.state.lastOf(file, collection.name)
    if (last.digest === undefined) return 'first'
    if (last.digest !== digest) return 'content'
    if (last.scope !== scope) return 'configuration'
    return isKept ? 'files' : 'first'
  }
  /** Whether a file whose result is known was another at the end of the last run, or what its fields take was. */
  const findRecall = (file: string, digest: string, isChecked: boolean): FileReason => {
    if (isChecked) return 'values'
    const last = memory.state.lastOf(file, collection.name)
    return last.digest === undefined || last.digest === digest ? 'unchanged' : 'recalled'
  }
  // Several collections may read one file.
  const placeOf = ({ path }: AssignedFile): string => `${collection.name} ${fileOf(path)}`
  const share = (assigned: AssignedFile, key: string, { reads, result }: { reads: KeptReads; result: FileResult }) => {
    if (!rechecks || !memory.results) return
    const { fields } = rechecks
    const value: SharedFile = { result, fields, body: memory.bodies.known(fileOf(assigned.path)) }
    memory.results.share(placeOf(assigned), { key, reads, value })
  }
  /** The result of a kept file, where it stands with the fields of now. */
  const restore = (
    assigned: AssignedFile,
    digest: string,
    { record, rechecks }: { readonly record: FileRecord; readonly rechecks: Rechecks },
  ): FileResult | undefined => {
    const last = rechecks.recall(record.fields)
    if (!last) return undefined
    const bodyKey = bodyKeyOf(assigned, digest)
    const result = restoreFile(record, createRestoring(assigned, collection, { bodyKey, written, ...context }))
    return rechecks.isRight(result, last) ? result : undefined
  }
  return {
    scope,
    answer: ({ path }, question) =>
      question !== 'content'
        ? asset(question.path, question.from)
        : source
          ? host.digest(source.text)
          : memory.state.digestOf(fileOf(path)),
    recall(assigned, read) {
      const digest = read('content') as string | undefined
      if (digest === undefined || !rechecks || scope === undefined)
        return { assigned, ...(digest === undefined ? {} : { digest }) }
      const file = fileOf(assigned.path)
      const key = keyOf(assigned, digest)
      const isSame = (question: AssetQuestion, answer: AssetAnswer): boolean => isSameAnswer(read(question), answer)
      const shared = memory.results?.find(placeOf(assigned), key) as SharedResult<SharedFile> | undefined
      if (shared && stands(shared, isSame) && rechecks.isRight(shared.value.result, shared.value.fields)) {
        const { result, body, fields } = shared.value
        if (body) memory.bodies.adopt(file, body)
        share(assigned, key, { reads: shared.reads, result })
        memory.setReason(file, findRecall(file, digest, fields.id !== rechecks.fields.id))
        return { assigned, result }
      }
      const kept = findResult<FileRecord>(memory.store, key)
      const result =
        kept && stands(kept, isSame) ? restore(assigned, digest, { record: kept.value, rechecks }) : undefined
      if (!kept || !result) {
        memory.setReason(file, findReason(file, digest, kept !== undefined))
        return { assigned, digest, key }
      }
      memory.setReason(file, findRecall(file, digest, kept.value.fields !== rechecks.fields.id))
      share(assigned, key, { reads: kept.reads, result })
      return { assigned, result }
    },
    keep({ assigned, ...recalled }, { digest, result, assets }) {
      if (!rechecks || outline === undefined || digest === undefined || result.diagnostics.some(isFault)) return
      const key = recalled.key && digest === recalled.digest ? recalled.key : keyOf(assigned, digest)
      const source = memory.bodies.sourceOf(fileOf(assigned.path))
      if (source) source.key = bodyKeyOf(assigned, digest)
      share(assigned, key, { reads: assets, result })
      if (!memory.isStored) return
      const write = (): void => {
        const record = writeFileRecord(result, rechecks.fields.id)
        if (record) keepResult(memory.store, key, assets, record)
      }
      if (result.entries.length > MANY_RECORDS) memory.keepLater(placeOf(assigned), write)
      else write()
    },
  }
}

/** A digest that is made when it is asked for. Bodies outlive a run, of which it must hold nothing else. */
function createLateDigest({ digest }: Pick<Host, 'digest'>, parts: readonly (string | undefined)[]): () => string {
  return () => digest(parts.join('\n'))
}

/** What the results of files depend on, but for the files themselves, and for what their fields only take or refuse. */
function outlineOf({ collection, base }: CollectionFiles, { host, model, code }: MemoryContext): string | undefined {
  const { content, endings, locales, blocks } = model
  const scoped = {
    settings: fileSettingsOf(collection),
    base,
    content,
    endings,
    locales,
    blocks,
    open: [...(blocks.open ?? [])],
    ...bodyDemandsOf(model),
  }
  return digestModel(scoped, { host, code })
}

/** The settings that the check of files reads, and that are not told by the list of files. */
function fileSettingsOf(collection: FileSettings) {
  const { name, files, perFile, records, id, slug, value, body, trusted, unknownKeys, locales, numbered, cells } =
    collection
  const computed = Object.keys(collection.derived)
  const fields = outlineChecks(collection.fields)
  const own = { name, perFile, records, id, slug, value, body, trusted, unknownKeys, locales, numbered, cells }
  return { ...own, computed, fields, isOfOne: files.length === 1 }
}

/** What bodies depend on, which can be said wherever the whole scope can. */
function bodyScopeOf({ collection, base }: CollectionFiles, { host, model, code }: MemoryContext): string | undefined {
  const { name, body, trusted } = collection
  const { content, endings, blocks } = model
  const settings = { name, body, trusted, base, content, endings, blocks, open: [...(blocks.open ?? [])] }
  return digestModel({ ...settings, ...bodyDemandsOf(model) }, { host, code })
}

function createRestoring(
  { path }: AssignedFile,
  collection: CollectionModel,
  {
    model,
    memory,
    source,
    readFile,
    reader,
    recent,
    bodyKey,
    written,
  }: MemoryContext & { readonly written: WrittenPaths; bodyKey(): string },
): Restoring {
  const file = source?.file ?? `${model.content}/${path}`
  const readAgain = <Read>(read: (format: Format, text: SourceText, options: CsvOptions) => Read): Read | undefined => {
    const text = source ?? readFile(path)
    const format = formatOf(path, model.endings)
    return 'text' in text && format ? read(format, text, readOptionsOf(collection)) : undefined
  }
  return {
    file,
    written,
    contentPath: path,
    collection: collection.name,
    openDocument(recordCount) {
      const held = holdDocument(undefined, () => readAgain(reopenText), recent)
      if (recordCount > MANY_RECORDS) held.release()
      return held.documentOf
    },
    restoreBody(body) {
      const { format, startOffset } = body
      const read = (): BodyText => {
        const again = readAgain((own, text, options) => own.read(text, options).body)
        return { text: '', startOffset, ...again, file }
      }
      memory.bodies.register(file, { reader, format, read, key: bodyKey })
      return { file, ...body }
    },
  }
}
