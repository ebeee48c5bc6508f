import { type CommonOptions, type Field, type Kind, type Nullable, storeAsIs } from '../field.ts'
import { whyNoDate } from './date.ts'
import { compileTextForm, type TextForm } from './text-form.ts'
import { timeForm } from './time.ts'
import { instantInZone } from './zone.ts'

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
export interface InstantField<Value> extends Field<Value, never> {
  readonly kind: 'instant'
}

/**
 * A field of moments in time (RFC 3339): a date, `T` or a space, a time, and a zone. It is kept in UTC,
 * as `2026-05-01T08:30:00Z`, with thousandths of seconds only where there are any.
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

const FORM = /^(\d{4}-\d{2}-\d{2})[Tt ](\d{2}:\d{2}(?::\d{2})?)(?:\.(\d+))?(?: ?([Zz]|[-+]\d{2}:\d{2}))?$/

/** RFC 3339, and the same without a zone where a zone is declared. */
const PATTERN = '^\\d{4}-\\d{2}-\\d{2}[Tt ]\\d{2}:\\d{2}(?::\\d{2})?(?:\\.\\d+)?'
const ZONE_PATTERN = '(?: ?(?:[Zz]|[-+]\\d{2}:\\d{2}))'

const form: TextForm = {
  expected: 'an instant as YYYY-MM-DDTHH:MM:SSZ',
  help: 'Instants are written 2026-05-01T10:30:00+02:00, as in RFC 3339',
  read(value, { options }) {
    const parts = FORM.exec(value)
    if (!parts) return { reason: whyNoDate(value) === undefined ? 'it has no time of day' : 'it is not written so' }
    const [, day = '', clock = '', fraction = '', written] = parts
    const wrong = whyNoDate(day)
    if (wrong) return { reason: wrong }
    const read = timeForm.read(clock, { kind: 'time', options: {} })
    if ('reason' in read) return read
    const zone = written ?? (options as InstantOptions).zone
    if (zone === undefined) return { reason: 'it has no zone' }
    const local = Date.parse(`${day}T${clock}Z`) + Math.floor(Number(`0.${fraction || 0}`) * 1000)
    const moment = resolveZone(local, zone)
    if (moment === undefined) return { reason: `clocks in ${zone} skip that time` }
    if (Number.isNaN(moment)) return { reason: `${zone} is no offset` }
    return { value: new Date(moment).toISOString().replace('.000Z', 'Z') }
  },
}

function resolveZone(local: number, zone: string): number | undefined {
  if (/^z$/i.test(zone)) return local
  const offset = /^([-+])(\d\d):(\d\d)$/.exec(zone)
  if (!offset) return instantInZone(local, zone)
  const [hours, minutes] = [Number(offset[2]), Number(offset[3])]
  if (hours > 23 || minutes > 59) return Number.NaN
  return local - (hours * 60 + minutes) * 60_000 * (offset[1] === '-' ? -1 : 1)
}

export const instantKind: Kind = {
  expected: () => form.expected,
  options: { zone: 'text', minimum: 'instant', maximum: 'instant', default: 'any' },
  ranges: [['minimum', 'maximum']],
  compile: (field) => compileTextForm(form, field),
  shape: () => ({ kind: 'instant' }),
  store: storeAsIs,
  valueType: () => 'string',
  handleType: () => '$.InstantHandle',
  jsonSchema: ({ options }) => {
    const zoned = (options as InstantOptions).zone === undefined
    return { type: 'string', pattern: `${PATTERN}${ZONE_PATTERN}${zoned ? '' : '?'}$` }
  },
}

/** True for a text that an instant field takes. */
export const isInstant = (value: string): boolean => 'value' in form.read(value, { kind: 'instant', options: {} })
