import type { RecordStore } from './record-store.ts'

/** The reads of a result: keys and the values that they had, all of it JSON. */
export type KeptReads = readonly (readonly [key: unknown, value: unknown])[]

/**
 * A result on disk: one record, whose key is a digest of all that the result is made of and that can be told beforehand.
 * Whatever else was read while it was made is in the record, and is read again before the result is taken:
 *
 * `{"reads":[["/photos/hut.jpg","/assets/photos/hut.jpg"]],"value":{"html":"<p>…</p>"}}`
 */
export interface KeptResult<Value> {
  readonly reads: KeptReads
  readonly value: Value
}

/** The key of another record about the same thing: no digest has such a letter. */
export const keyBeside = (key: string, letter: 'c' | 'i' | 'o' | 'v' | 'x'): string => letter + key.slice(1)

/** The result under a key, whether it stands or not. */
export const findResult = <Value>(store: RecordStore, key: string): KeptResult<Value> | undefined =>
  store.get(key) as KeptResult<Value> | undefined

/** True where everything that was read would be the same now. */
export const stands = <Key, Read>(
  { reads }: Pick<KeptResult<unknown>, 'reads'>,
  isSame: (key: Key, value: Read) => boolean,
): boolean => reads.every(([key, value]) => isSame(key as Key, value as Read))

/** Keeps a result, whose JSON may come in pieces. */
export const keepResult = (store: RecordStore, key: string, reads: KeptReads, json: readonly string[]): void =>
  store.put(key, [`{"reads":${JSON.stringify(reads)},"value":`, ...json, '}'])
