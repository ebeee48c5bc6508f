import type { AnyField } from './any-field.ts'
import type { SettingStep, SettingsReader } from './settings-reader.ts'

/** Options of which a higher, or a lower, value allows more. */
const LOWER_ALLOWS_MORE = [
  'minLength',
  'minimum',
  'exclusiveMinimum',
  'minItems',
  'minProperties',
  'minWidth',
  'minHeight',
]
const HIGHER_ALLOWS_MORE = [
  'maxLength',
  'maximum',
  'exclusiveMaximum',
  'maxItems',
  'maxProperties',
  'maxWidth',
  'maxHeight',
  'maxSizeBytes',
]

type Options = Readonly<Record<string, unknown>>

/** Warns where the use of a shared field allows what the shared field refuses. */
export function checkLoosened(reader: SettingsReader, path: SettingStep[], field: AnyField, base: AnyField): void {
  const options = field.options as Options
  const promised = base.options as Options
  for (const name of Object.keys({ ...options, ...promised })) {
    const [now, before] = [options[name], promised[name]]
    if (now === before || !allowsMore(name, now, before)) continue
    reader.report('config-field-loosened', [...path, name], {
      name,
      now: String(now ?? 'absent'),
      before: String(before ?? 'absent'),
    })
  }
}

function allowsMore(name: string, now: unknown, before: unknown): boolean {
  if (name === 'optional') return now === true
  if (name === 'default') return before === undefined
  if (name === 'uniqueItems' || name === 'unique') return before === true
  if (name === 'private') return before === true
  if (name === 'pattern' || name === 'lines') return before !== undefined && before !== 'many'
  if (LOWER_ALLOWS_MORE.includes(name))
    return before !== undefined && (now === undefined || (now as number) < (before as number))
  if (HIGHER_ALLOWS_MORE.includes(name))
    return before !== undefined && (now === undefined || (now as number) > (before as number))
  return false
}
