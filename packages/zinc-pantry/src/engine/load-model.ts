import type { DiagnosticCode, ParametersOf } from '../diagnostics/diagnostic.ts'
import {
  arrangeDiagnostics,
  createDiagnostic,
  type Diagnostic,
  hasErrors,
  type Span,
} from '../diagnostics/diagnostic.ts'
import { createLineIndex } from '../diagnostics/line-index.ts'
import { suggestNearest } from '../diagnostics/suggest.ts'
import type { Host, LoadedConfiguration } from '../host/host.ts'
import { buildModel } from '../schema/build-model.ts'
import type { Model } from '../schema/model.ts'
import { isPantry } from '../schema/pantry.ts'
import type { SettingProblem } from '../schema/settings-reader.ts'
import { locateSetting } from './configuration/locate-setting.ts'
import { readText } from './read-text.ts'

/** A configuration, ready to work with where it has no errors. */
export interface LoadedModel {
  /** Relative to the root. */
  readonly configurationFile: string
  readonly model: Model | undefined
  readonly diagnostics: readonly Diagnostic[]
  /** A digest of the code; undefined where that is not known. */
  readonly code: string | undefined
  /** The files it was made from, as far as they are known. */
  readonly inputs: readonly string[]
}

/** Runs a configuration file and checks every setting in it. `kept` is the folder of what is kept from run to run. */
export async function loadModel(host: Host, configurationFile: string, kept?: string): Promise<LoadedModel> {
  const loaded = await host.loadConfiguration(configurationFile, { kept })
  const inputs = ('inputs' in loaded && loaded.inputs) || [configurationFile]
  const nothing = { configurationFile, model: undefined, code: undefined, inputs }
  if (loaded.kind !== 'loaded') {
    const isMissing = host.size(configurationFile) === undefined
    return {
      ...nothing,
      diagnostics: [isMissing ? describeMissing(host, configurationFile) : describeFailure(host, loaded)],
    }
  }
  if (!isPantry(loaded.value)) {
    const text = readText(host, configurationFile) ?? ''
    const span = exportSpan(text)
    const diagnostic = createDiagnostic('config-not-pantry', { file: configurationFile, span }, {})
    return { ...nothing, diagnostics: [diagnostic] }
  }
  const { model, problems } = buildModel(loaded.value)
  const diagnostics = arrangeDiagnostics(await placeSettings(host, configurationFile, problems))
  return { ...nothing, model: hasErrors(diagnostics) ? undefined : model, diagnostics, code: loaded.digest }
}

/** Gives problems of settings their places in the configuration file. */
export async function placeSettings(
  host: Host,
  file: string,
  problems: readonly SettingProblem[],
): Promise<Diagnostic[]> {
  if (problems.length === 0) return []
  const text = readText(host, file) ?? ''
  return Promise.all(
    problems.map(async ({ code, path, parameters }) => {
      const span = await locateSetting(text, path)
      return createDiagnostic(code, { file, span }, parameters as ParametersOf<DiagnosticCode>)
    }),
  )
}

function exportSpan(text: string): Span {
  const start = Math.max(0, text.search(/export\s+default/))
  return [start, Math.min(text.length, start + 'export default'.length)]
}

const describeMissing = ({ root = '.' }: Host, file: string): Diagnostic =>
  createDiagnostic('config-not-found', { file, span: [0, 0] }, { looked: root, upward: false })

function describeFailure(host: Host, failure: Exclude<LoadedConfiguration, { kind: 'loaded' }>): Diagnostic {
  const { file, line, column, reason } = failure
  const text = readText(host, file) ?? ''
  const start = createLineIndex(text).startOf(line) + column - 1
  const { name, from, known } = failure.unknownExport ?? {}
  if (name !== undefined && from !== undefined) {
    const suggestion = suggestNearest(name, known ?? [])
    const place = { file, span: [start, start + name.length] as const }
    return createDiagnostic('config-export-unknown', place, { name, from, suggestion })
  }
  const { missing: specifier } = failure.kind === 'unparsed' ? failure : {}
  if (specifier !== undefined) {
    const place = { file, span: [start, start + specifier.length + 2] as const }
    return createDiagnostic('config-import-missing', place, { specifier, isFile: specifier.startsWith('.') })
  }
  const [token = ''] = /^(?:\w+|.)/u.exec(text.slice(start)) ?? []
  const length = failure.kind === 'unparsed' ? Math.max(1, token.length) : 1
  const place = { file, span: [start, start + length] as const }
  if (failure.kind !== 'unparsed') return createDiagnostic('config-failed', place, { reason })
  // The bundler names the kind of the word, where what is written says more.
  const found = token === '' ? reason : reason.replace(/(?<=but found )`\w+`$/, () => `\`${token}\``)
  return createDiagnostic('config-syntax', place, { reason: found })
}
