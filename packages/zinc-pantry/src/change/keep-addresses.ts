import { valueAt } from '../diagnostics/own-key.ts'
import { writtenKey } from '../schema/written-key.ts'
import type { LinkedEntry } from '../validate/entry.ts'
import type { Attention, ChangeStep } from './change.ts'
import { editValue } from './edit-value.ts'
import type { SourceOf } from './source.ts'
import type { ChangeSubject } from './subject.ts'

/** Addresses that lead to the page of an entry from now on. */
export interface KeptAddresses {
  /** The entry whose page that is; undefined where there is none. */
  readonly holder: LinkedEntry | undefined
  readonly addresses: readonly string[]
  /** The address of that page, which is none that it had. */
  readonly address: string | undefined
  /** Where a person is to look. */
  readonly entry: LinkedEntry
}

/** Adds addresses to those that an entry had, where its collection lists them; else a person is told. */
export function keepAddresses(
  { model }: ChangeSubject,
  { holder, addresses, address, entry }: KeptAddresses,
  sourceOf: SourceOf,
): { readonly step?: ChangeStep; readonly attention?: Attention } {
  const { formerAddresses: field, fields = {} } =
    model.collections.find(({ name }) => name === holder?.collection) ?? {}
  const declared = field === undefined ? undefined : fields[field]
  const list = addresses.join(' and ')
  const place = entry.locate([])
  if (!holder || !declared || field === undefined)
    return {
      attention: { place, words: `the page at ${list} is gone, and no list of former addresses leads on from there` },
    }
  const source = sourceOf(holder)
  const path = [...holder.recordPath, writtenKey(field, declared)]
  const raw = source && valueAt(source.document.value, path)
  const known = Array.isArray(raw) ? raw : typeof raw === 'string' ? [raw] : []
  const all = [...new Set([...known, ...addresses])].filter((one) => one !== address)
  const edit = source && editValue(source, path, all)
  if (edit) return { step: { kind: 'edit', file: source.file, ...edit, reason: `its page was at ${list}` } }
  return { attention: { place, words: `${list} is to be written into ${field} by hand` } }
}
