import { isDate } from '../../values/date.ts'
import { type InstantFault, readInstant } from '../../values/instant.ts'
import { isZone } from '../../values/zone.ts'
import type { CommonOptions, Field, Nullable } from '../field.ts'
import { type Kind, storeAsIs } from '../kind.ts'
import { whyNoDate } from './date.ts'
import { compileTextForm, type TextForm } from './text-form.ts'
import { whyNoTime } from './time.ts'

/** Options of {@link instant}. */
export interface InstantOptions extends CommonOptions {
  /**
   * The zone that counts where the text names none: a name of the time zone database, such as
   * `Europe/Oslo`, or an offset, such as `+01:00`. Default: a text without a zone is refused.
   */
  readonly zone?: string
  /** Earliest instant allowed. Default: no limit. */
  readonly minimum?: string
  /** Latest instant allowed. Default: no limit. */
  readonly maximum?: string
  /** The value where the entry has none. */
  readonly default?: string
}

/** A field of {@link instant}. */
export interface InstantField<Value = unknown> extends Field<Value, never> {
  readonly kind: 'instant'
  readonly options: InstantOptions
}

/**
 * A field of moments in time (RFC 3339): a date, `T` or a space, a time, and a zone. It is kept in UTC,
 * with thousandths of seconds, as `2026-05-01T08:30:00.000Z`: the form of JavaScript's `toISOString`, whose texts sort as
 * the instants do.
 *
 * Diagnostics: `value-type`, `form-invalid`, `form-too-low`, `form-too-high`.
 *
 * @example
 * ```ts
 * import { instant } from 'zinc-pantry'
 *
 * const starts = instant({ zone: 'Europe/Oslo' })
 * ```
 */
export function instant<const Options extends InstantOptions = Record<never, never>>(
  options?: Options,
): InstantField<Nullable<string, Options>> {
  return { kind: 'instant', options: options ?? {} }
}

/** RFC 3339, and the same without a zone where a zone is declared. */
const PATTERN = '^\\d{4}-\\d{2}-\\d{2}[Tt ]\\d{2}:\\d{2}(?::\\d{2})?(?:\\.\\d+)?'
const ZONE_PATTERN = '(?: ?(?:[Zz]|[-+]\\d{2}:\\d{2}))'

const form: TextForm<InstantField> = {
  expected: 'an instant as YYYY-MM-DDTHH:MM:SSZ',
  help: 'Instants are written 2026-05-01T10:30:00+02:00, as in RFC 3339',
  read(value, { options }) {
    const { zone } = options
    const read = readInstant(value, zone)
    return 'value' in read ? read : { reason: reasonOf(read.fault, value, zone) }
  },
}

function reasonOf(fault: InstantFault, value: string, zone: string | undefined): string {
  const [day = '', clock = ''] = value.split(/[Tt .]|(?<=:\d\d)(?=[-+Zz])/)
  const named = zone ?? value.slice(-6)
  switch (fault) {
    case 'form':
      return isDate(value) ? 'it has no time of day' : 'it is not written so'
    case 'date':
      return whyNoDate(day) ?? 'there is no such day'
    case 'time':
      return whyNoTime(clock)
    case 'zone-missing':
      return 'it has no zone'
    case 'zone-invalid':
      return `${named} is no offset`
    case 'skipped':
      return `clocks in ${named} skip that time`
    default:
      return 'in UTC it is outside of the years 0000 to 9999'
  }
}

export const instantKind: Kind<InstantField> = {
  expected: () => form.expected,
  options: { zone: 'text', minimum: 'instant', maximum: 'instant', default: 'any' },
  ranges: [['minimum', 'maximum']],
  constraints: () => ['minimum', 'maximum'],
  compile: (field) => compileTextForm(form, field),
  checkDeclaration({ options: { zone } }, reader, path) {
    if (typeof zone === 'string' && !isZone(zone))
      reader.invalid([...path, 'zone'], zone, 'a time zone, such as Europe/Oslo')
  },
  isOrdered: () => true,
  shape: ({ options }) => ({ kind: 'instant', ...zoneOf(options) }),
  store: storeAsIs,
  valueType: () => 'string',
  handleType: () => '$.InstantHandle',
  jsonSchema: ({ options }) => {
    const zoned = options.zone === undefined
    return { type: 'string', pattern: `${PATTERN}${ZONE_PATTERN}${zoned ? '' : '?'}$` }
  },
}

const zoneOf = ({ zone }: InstantOptions): { zone?: string } => (zone === undefined ? {} : { zone })

/** True for a text that an instant field takes. */
export const isInstant = (value: string): boolean => 'value' in readInstant(value)
