import { lastSegment } from './resolve-path.ts'

/** A file that could not be read. */
export interface FailedFile {
  readonly file: string
  /** The id of its one entry, or undefined where only its text can tell the ids. */
  readonly id: string | undefined
}

/** The files of a collection that could not be read, by what is asked of them: in a wholly broken site that is asked of each link. */
export interface FailedFiles {
  /** The first of all. */
  readonly first: FailedFile | undefined
  /** The first that may hold any entry. */
  readonly open: FailedFile | undefined
  withId(id: string): FailedFile | undefined
  /** The one with an entry whose id ends in a segment, without an ending of a file. */
  endingIn(segment: string): FailedFile | undefined
}

/** Indexes such files. */
export function indexFailedFiles(files: readonly FailedFile[]): FailedFiles {
  const byId = new Map<string, FailedFile>()
  const bySegment = new Map<string, FailedFile>()
  for (const one of files.toReversed()) {
    if (one.id === undefined) continue
    byId.set(one.id, one)
    bySegment.set(lastSegment(one.id), one)
  }
  return {
    first: files[0],
    open: files.find(({ id }) => id === undefined),
    withId: (id) => byId.get(id),
    endingIn: (segment) => bySegment.get(segment),
  }
}
