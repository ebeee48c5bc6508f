import type { DiagnosticCode, ParametersOf } from '../diagnostics/diagnostic.ts'
import {
  arrangeDiagnostics,
  createDiagnostic,
  type Diagnostic,
  hasErrors,
  type Span,
} from '../diagnostics/diagnostic.ts'
import { createLineIndex } from '../diagnostics/line-index.ts'
import type { Host, LoadedConfiguration } from '../host/host.ts'
import { buildModel } from '../schema/build-model.ts'
import type { Model } from '../schema/model.ts'
import { isPantry } from '../schema/pantry.ts'
import type { SettingProblem } from '../schema/settings-reader.ts'
import { locateSetting } from './locate-setting.ts'
import { readText } from './read-text.ts'

/** A configuration, ready to work with where it has no errors. */
export interface LoadedModel {
  /** Relative to the root. */
  readonly configurationFile: string
  readonly model: Model | undefined
  readonly diagnostics: readonly Diagnostic[]
}

/** Runs a configuration file and checks every setting in it. */
export async function loadModel(host: Host, configurationFile: string): Promise<LoadedModel> {
  const loaded = await host.loadConfiguration(configurationFile)
  if (loaded.kind !== 'loaded')
    return { configurationFile, model: undefined, diagnostics: [describeFailure(host, loaded)] }
  if (!isPantry(loaded.value)) {
    const text = readText(host, configurationFile) ?? ''
    const span = exportSpan(text)
    const diagnostic = createDiagnostic('config-not-pantry', { file: configurationFile, span }, {})
    return { configurationFile, model: undefined, diagnostics: [diagnostic] }
  }
  const { model, problems } = buildModel(loaded.value)
  const diagnostics = arrangeDiagnostics(await placeSettings(host, configurationFile, problems))
  return { configurationFile, model: hasErrors(diagnostics) ? undefined : model, diagnostics }
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

function describeFailure(host: Host, failure: Exclude<LoadedConfiguration, { kind: 'loaded' }>): Diagnostic {
  const { file, line, column, reason } = failure
  const index = createLineIndex(readText(host, file) ?? '')
  const start = index.startOf(line) + column - 1
  const length = failure.kind === 'unparsed' ? failure.length : 1
  const code = failure.kind === 'unparsed' ? 'config-syntax' : 'config-failed'
  return createDiagnostic(code, { file, span: [start, start + length] }, { reason })
}
