import { LEADING_NUMBER } from '../schema/slug.ts'

/** An entry that its path names. */
export interface NamedByPath {
  /** The path of its file, relative to the content folder. */
  readonly file: string
  readonly id: string
  /** True where numbers in front of its names are no part of the id. */
  readonly numbered: boolean
}

/**
 * The path of the file of an entry under another id: folders in front, the language, the ending and numbers stay as they are.
 * Undefined where the path does not end with the id.
 */
export function renamePath({ file, id, numbered }: NamedByPath, name: string): string | undefined {
  const steps = file.split('/')
  const names = id.split('/')
  const own = steps.slice(-names.length)
  const last = own.at(-1) ?? ''
  const plain = own.map((step) => (numbered ? step.replace(LEADING_NUMBER, '$2') : step))
  const lastName = names.at(-1) ?? ''
  const fits = names.every((one, at) => at === names.length - 1 || plain[at] === one)
  const rest = plain.at(-1)?.slice(lastName.length) ?? ''
  if (!fits || !plain.at(-1)?.startsWith(lastName) || !rest.startsWith('.')) return undefined
  const wanted = name.split('/')
  const numberOf = (step: string | undefined): string =>
    numbered && step !== undefined ? step.slice(0, step.length - step.replace(LEADING_NUMBER, '$2').length) : ''
  const folders = wanted.slice(0, -1).map((one, at) => numberOf(own.slice(0, -1)[at]) + one)
  return [...steps.slice(0, -names.length), ...folders, `${numberOf(last)}${wanted.at(-1)}${rest}`].join('/')
}

/** The path from one file to another, as it is written in the first. */
export function relativePath(from: string, to: string): string {
  const [start, end] = [from.split('/').slice(0, -1), to.split('/')]
  let same = 0
  while (same < start.length && same < end.length - 1 && start[same] === end[same]) same++
  return [...start.slice(same).map(() => '..'), ...end.slice(same)].join('/')
}
