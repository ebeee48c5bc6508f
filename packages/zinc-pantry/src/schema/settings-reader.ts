import type { DiagnosticCode, ParametersOf } from '../diagnostics/diagnostic.ts'
import { suggestNearest } from '../diagnostics/suggest.ts'
import { describeValue, settingPath } from '../diagnostics/words.ts'

/** A step into the configuration. */
export type SettingStep = string | number

/** A problem of a setting, before it has a place in the configuration file. */
export interface SettingProblem<Code extends DiagnosticCode = DiagnosticCode> {
  readonly code: Code
  readonly path: readonly SettingStep[]
  readonly parameters: Readonly<Record<string, unknown>>
}

/** Reads settings one by one and collects their problems. */
export interface SettingsReader {
  readonly problems: SettingProblem[]
  report<Code extends DiagnosticCode>(
    code: Code,
    path: readonly SettingStep[],
    parameters: Omit<ParametersOf<Code>, 'setting'>,
  ): void
  /** Reports a value of the wrong type. */
  invalid(path: readonly SettingStep[], value: unknown, expected: string): undefined
  /** Reports keys of an object that are no settings. */
  known(path: readonly SettingStep[], object: object, names: readonly string[]): void
  /** A text setting, or undefined where it is absent or wrong. */
  text(path: readonly SettingStep[], value: unknown): string | undefined
  /** One text or a list of them. */
  texts(path: readonly SettingStep[], value: unknown): string[]
  oneOf<Word extends string>(path: readonly SettingStep[], value: unknown, words: readonly Word[]): Word | undefined
  flag(path: readonly SettingStep[], value: unknown): boolean | undefined
}

export function createSettingsReader(): SettingsReader {
  const problems: SettingProblem[] = []
  const reader: SettingsReader = {
    problems,
    report(code, path, parameters) {
      problems.push({ code, path, parameters: { setting: settingPath(path), ...parameters } })
    },
    invalid(path, value, expected) {
      const seen = typeof value === 'function' ? 'a function' : describeValue(value)
      reader.report('config-setting-invalid', path, { seen, expected })
      return undefined
    },
    known(path, object, names) {
      for (const key of Object.keys(object)) {
        if (names.includes(key)) continue
        const suggestion = suggestNearest(key, names)
        reader.report('config-setting-unknown', [...path, key], { suggestion, known: names })
      }
    },
    text(path, value) {
      if (value === undefined) return undefined
      return typeof value === 'string' && value !== '' ? value : reader.invalid(path, value, 'text')
    },
    texts(path, value) {
      if (typeof value === 'string') return [value]
      if (!Array.isArray(value) || value.length === 0) {
        reader.invalid(path, value, 'text or a list of texts')
        return []
      }
      return value.flatMap((item, position) => reader.text([...path, position], item ?? null) ?? [])
    },
    oneOf(path, value, words) {
      if (value === undefined) return undefined
      const found = words.find((word) => word === value)
      return found ?? reader.invalid(path, value, words.map((word) => `'${word}'`).join(' or '))
    },
    flag(path, value) {
      if (value === undefined || typeof value === 'boolean') return value
      return reader.invalid(path, value, 'true or false')
    },
  }
  return reader
}
