/**
 * The world outside of the engine, as the engine needs it. All paths are relative to the site's root, with
 * forward slashes. Reading is synchronous: it was measured at a fifth of the time of asynchronous reads.
 */
export interface Host {
  /** The absolute path of the root, where it has one. */
  readonly root?: string
  /**
   * Everything below a folder, or undefined where there is no such folder. Names that start with a dot are left out, but
   * for those that one of some patterns matches.
   */
  list(folder: string, dotNames?: readonly string[]): Listing | undefined
  /** The bytes of a file, or only the first. Throws a {@link HostError} where it cannot be read. */
  read(file: string, maxBytes?: number): Uint8Array
  /**
   * Reads a file of at most so many bytes and says the state that it was in, without what would be asked twice. Undefined, or left
   * out, where it has to be asked for its state, its size and its bytes one after another. Throws a {@link HostError}.
   */
  readStamped?(file: string, maxBytes: number): StampedFile | undefined
  /** The size of a file in bytes, or undefined where there is none. */
  size(file: string): number | undefined
  /** Says which state a file is in without reading it; undefined where there is none, or it is being changed now. */
  stamp(file: string): string | undefined
  /** The same of a file that only we are expected to write: it tells one that was put in its place, or changed. */
  identity(file: string): string | undefined
  /** A digest of a text or of bytes as 32 hexadecimal digits, the same on every machine. */
  digest(content: string | Uint8Array): string
  /** A checksum of bytes and of a text before them, as 8 hexadecimal digits, for finding damage. */
  checksum(content: Uint8Array, before: string): string
  /** Replaces a file in one step and makes the folders above it. Throws a {@link HostError}. */
  write(file: string, text: string): void
  /** Starts to write files while other work goes on. */
  startWriting(): Writing
  /** Deletes a file; no problem where there is none. */
  remove(file: string): void
  /** Removes a folder that holds nothing any more, and those above it that held only such; others stay. */
  removeEmptyFolders?(folder: string): void
  /**
   * Tells of changes until it is closed. It may tell of what did not change, and tells of all that did, sooner or later.
   */
  watch(watched: Watched, onChange: (changes: Changes) => void): Promise<Watcher>
  /** Asks the version control that a folder is in for the changes of its files; undefined where there is none. */
  versions?(folder: string): Promise<VersionHistory | undefined>
  /** Asks the version control that a file is in for its changes, the newest first; undefined where there is none. */
  revisions?(file: string): Promise<readonly Revision[] | undefined>
  /** What a change did with a file, as a unified diff; undefined where there is no such change. */
  patchOf?(file: string, revision: string): Promise<string | undefined>
  /** The times of a file itself, where it has any. */
  times?(file: string): FileHistory | undefined
  /** Makes images of others, where the host can. */
  readonly images?: ImageMaker
  /** The query runtime as modules that browsers load as they are, by their names; `query.js` leads to the others. */
  queryRuntime?(): ReadonlyMap<string, string>
  /** Loads what colours code; nothing where it is not installed. Left out: it is imported whole. */
  colouring?(): Promise<Colouring | undefined>
  /** Other threads that work may be given to, where the host has any. */
  readonly threads?: Threads
  /** Says that a folder is being written, until `end`. */
  lock(folder: string): FolderLock
  /** The version of this package, and of its code where that can change without a new one. */
  version(): string
  /** Runs a configuration file and gives its default export. */
  loadConfiguration(file: string, options?: LoadingOptions): Promise<LoadedConfiguration>
  /** Asks for something over HTTP. Throws a {@link HostError} where there is no answer. */
  fetch(request: HttpRequest): Promise<HttpAnswer>
  /** Matches a pattern within bounded time, where the host can; undefined where that was not enough. */
  matches?: (pattern: RegExp, text: string) => boolean | undefined
  /** Whether what a file imports is there; undefined where only a bundler can tell. Left out: it never can be told. */
  findImport?: (specifier: string, file: string) => boolean | undefined
  /** A variable of the environment. */
  environment(name: string): string | undefined
  /** Does something for a limited time. Throws a {@link HostError} where it has not come to an end by then. */
  withinLimit<Result>(work: () => Promise<Result>): Promise<Result>
  /** Lets some time pass. */
  wait(milliseconds: number): Promise<void>
  /** Milliseconds since some moment. */
  now(): number
  /** The present moment as an instant in UTC, such as `2026-05-01T08:30:00Z`. */
  clock(): string
}

/** A file as it was when it was read. */
export interface StampedFile {
  /** See {@link Host.stamp}. */
  readonly stamp: string | undefined
  readonly sizeBytes: number
  /** Undefined where there are more than were asked for. */
  readonly bytes: Uint8Array | undefined
}

/** What colours code, as the package `lowlight` has it, and its languages one by one. */
export interface Colouring {
  createLowlight(): unknown
  grammarOf(language: string): unknown
}

/**
 * The ending of a file that a process was writing when it was killed; hosts give it to files that are not whole yet.
 */
export const LEFT_OVER = /\.\d+\.tmp$/

/** Files that are written while other work goes on. */
export interface Writing {
  /**
   * Replaces a file in one step, now or soon, and makes the folders above it. Gives its size in bytes. Throws a
   * {@link HostError} for what is known at once; what else goes wrong is said by `settled`.
   */
  write(file: string, content: string | Uint8Array): number
  /** Lets what was written in the meantime come to an end. */
  drain(): Promise<void>
  /** Waits until all is written. Throws a {@link HostError} where something was not. */
  settled(): Promise<void>
}

/** The folders that are watched, relative to the root. */
export interface Watched {
  /** Folders with all below them. */
  readonly trees: readonly string[]
  /** Folders of which only what is directly in them is of interest. */
  readonly folders: readonly string[]
  /** Patterns of names that start with a dot and are of interest all the same. Default: none. */
  readonly dotNames?: readonly string[]
}

/** Paths that came, went or changed; undefined where there were too many to tell. */
export type Changes = readonly string[] | undefined

/** The first and the last change of a file, as instants in UTC. */
export interface FileHistory {
  readonly first: string
  readonly last: string
}

/** A change of a file, as version control knows it. */
export interface Revision {
  readonly id: string
  /** An instant with its zone (RFC 3339). */
  readonly at: string
  readonly author: string
  /** Its first line. */
  readonly words: string
}

/** The changes of the files of a folder. */
export interface VersionHistory {
  /** By their paths below the folder. */
  readonly files: ReadonlyMap<string, FileHistory>
  /** True where older changes are not there. */
  readonly isShallow: boolean
}

/** Other threads of the process. */
export interface Threads {
  /** The number that is worth starting beside this one; 0 where none is. */
  readonly count: number
  /** How long bodies are rendered without them first: to start them takes as long. */
  readonly startAfterMs: number
  /** Starts one, with the module of the package that makes its task, and plain data for it. */
  start(task: 'render-task', data: unknown): Thread
}

/** A thread that does one task for one question after another. */
export interface Thread {
  /** True once it is there. */
  readonly isReady: boolean
  /** The number of questions that are not answered yet. */
  pending(): number
  /** Asks for plain data by plain data; undefined where it has no answer, or is not there any more. */
  ask(question: unknown): Promise<unknown>
  end(): void
}

/** The task of a thread. */
export type Task = (question: unknown) => Promise<unknown>

/** Makes images of others. */
export interface ImageMaker {
  /** The name of the package that it takes, where that is not installed. */
  missing(): string | undefined
  /**
   * Makes an image in another width and format: upright, in the colours of screens, without what else the file says. Throws a
   * {@link HostError} where the bytes are no image.
   */
  make(image: Uint8Array, wanted: WantedImage): Promise<Uint8Array>
}

/** How an image is wanted. */
export interface WantedImage {
  /** In pixels. */
  readonly width: number
  readonly kind: 'avif' | 'webp' | 'jpeg' | 'png'
  /** From 1 to 100. Default: that of the format. */
  readonly quality?: number | undefined
}

/** Something that watches. */
export interface Watcher {
  close(): Promise<void>
}

/** A folder that is being written. */
export interface FolderLock {
  /** True while others write it too. */
  isShared(): boolean
  end(): void
}

/** A question over HTTP, by GET. */
export interface HttpRequest {
  readonly url: string
  /** Sent to the host of the address only, not to another one that it refers to. */
  readonly headers: Readonly<Record<string, string>>
  /** The media type that is asked for. */
  readonly accept: string
  readonly timeoutMs: number
  /** Largest answer that is read. */
  readonly maxBytes: number
}

/** An answer over HTTP. */
export interface HttpAnswer {
  readonly status: number
  /** By lower-case name. */
  readonly headers: Readonly<Record<string, string>>
  readonly body: Uint8Array
}

/** The files of a folder and of those below it. */
export interface Listing {
  /** Relative to the folder, sorted by code unit. Hidden ones are left out, but for those asked for, and `node_modules`. */
  readonly files: readonly string[]
  /** Symbolic links that were not followed, as they lead out of the folder or in a circle. */
  readonly strayLinks: readonly string[]
  /** Folders that could not be read. */
  readonly unreadable: readonly UnreadableFolder[]
}

/** A folder that could not be read, and why, in words for a person. */
export interface UnreadableFolder {
  /** Relative to the folder that was listed; empty for itself. */
  readonly path: string
  readonly reason: string
}

/** A name that is imported from where there is none such, and the names that are there. */
export interface UnknownExport {
  readonly name: string
  readonly from: string
  readonly known: readonly string[]
}

/** How a configuration is loaded. */
export interface LoadingOptions {
  /** A folder for what loads it faster again. Default: none. */
  readonly kept?: string | undefined
  /** Texts that stand for those of some files, relative to the root. Default: none. */
  readonly texts?: ReadonlyMap<string, string>
}

/** A configuration that does not parse, or imports what is not there. The place is 1-based, in UTF-16 code units. */
export interface UnparsedConfiguration {
  readonly kind: 'unparsed'
  readonly reason: string
  /** The specifier of an import that leads nowhere. */
  readonly missing?: string | undefined
  readonly unknownExport?: UnknownExport | undefined
  readonly file: string
  readonly line: number
  readonly column: number
  readonly inputs?: readonly string[]
}

/** A configuration that was run, or why it could not be. */
export type LoadedConfiguration =
  | {
      readonly kind: 'loaded'
      readonly value: unknown
      /** A digest of its code and of all that it imports; undefined where that is not known. */
      readonly digest?: string
      /** The files it was made from, itself included, relative to the root. */
      readonly inputs?: readonly string[]
    }
  | UnparsedConfiguration
  /** It threw while it ran, at a place that may be unknown. */
  | {
      readonly kind: 'threw'
      readonly reason: string
      readonly unknownExport?: UnknownExport | undefined
      readonly file: string
      readonly line: number
      readonly column: number
      readonly inputs?: readonly string[]
    }

const MARK = Symbol.for('zinc-pantry.host-error')

/**
 * Why a file could not be read or written, in words for a person.
 *
 * @example
 * ```ts
 * import { createNodeHost, HostError } from 'zinc-pantry/engine'
 *
 * try {
 *   await createNodeHost('.').read('content/huts/gable.md', 1_000_000)
 * } catch (error) {
 *   if (error instanceof HostError) console.log(error.message)
 * }
 * ```
 */
export class HostError extends Error {
  override readonly name = 'HostError'
  readonly [MARK] = true

  // One of another copy of this class is one as well: a host may be made by a package beside the one that asks it.
  static override [Symbol.hasInstance](error: unknown): boolean {
    return (error as { [MARK]?: unknown } | undefined | null)?.[MARK] === true
  }
}
