import { describeValue } from '../../diagnostics/words.ts'
import { INVALID, wrongType } from '../check-run.ts'
import type { CommonOptions, Field, FieldOptions, Nullable } from '../field.ts'
import { type Kind, storeAsIs } from '../kind.ts'
import { type AssetLimits, checkAsset, withKinds } from './asset-file.ts'

/** Options of {@link file}. */
export interface FileOptions extends CommonOptions, AssetLimits {}

/** A field of {@link file}. */
export interface FileField<Value = unknown> extends Field<Value, never> {
  readonly kind: 'file'
  readonly options: FileOptions & FieldOptions
}

/** The value of a file field. */
export interface FileValue {
  /** Relative to the content folder, with forward slashes. */
  readonly file: string
  readonly sizeBytes: number
}

/**
 * A field that names a file of the content folder: relative to the entry's own file, or to the content
 * folder with `/` in front. A kind is the ending of its name, and must be what its bytes show, where they can.
 *
 * Diagnostics: `value-type`, `asset-missing`, `asset-outside`, `asset-guarded`, `asset-disguised`, `asset-kind`, `asset-too-large`.
 *
 * @example
 * ```ts
 * import { file } from 'zinc-pantry'
 *
 * const track = file({ kinds: ['gpx', 'kml'], maxSizeBytes: 2_000_000 })
 * ```
 */
export function file<const Options extends FileOptions = Record<never, never>>(
  options?: Options,
): FileField<Nullable<FileValue, Options>> {
  return { kind: 'file', options: options ?? {} }
}

const expected = ({ options }: FileField): string => withKinds('the path of a file', options.kinds)

export const fileKind: Kind<FileField> = {
  expected,
  options: { kinds: 'texts', maxSizeBytes: 'count' },
  compile: (field) => (value, run) => {
    if (typeof value !== 'string' || value === '') return wrongType(run, describeValue(value), expected(field))
    const facts = checkAsset(value, field.options, run)
    return facts === INVALID ? INVALID : { file: facts.file, sizeBytes: facts.sizeBytes }
  },
  shape: () => ({ kind: 'group', fields: { file: { kind: 'text' }, sizeBytes: { kind: 'number' } } }),
  store: storeAsIs,
  valueType: () => '$.FileValue',
  handleType: () => '$.FileHandle',
  jsonSchema: () => ({ type: 'string', minLength: 1 }),
}
