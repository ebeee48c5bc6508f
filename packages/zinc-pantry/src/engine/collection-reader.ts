import { type BodyReader, createBodyReader, type ReaderOptions } from '../body/body-reader.ts'
import { PluginFailure } from '../body/plugin-failure.ts'
import type { SettingProblem } from '../schema/settings-reader.ts'

/** The reader of a collection's bodies, and the problems of its plugins. */
export interface CollectionReader {
  readonly reader: BodyReader
  readonly problems: readonly SettingProblem[]
}

/** Makes a reader of bodies; where a plugin cannot be added there is a problem, and a reader without plugins. */
export function createCollectionReader(options: ReaderOptions, collection: string): CollectionReader {
  try {
    return { reader: createBodyReader(options), problems: [] }
  } catch (error) {
    if (!(error instanceof PluginFailure)) throw error
    const settings = options.settings && { ...options.settings, markdownPlugins: [] }
    const parameters = { plugin: error.plugin, reason: error.message }
    const problem: SettingProblem = {
      code: 'config-plugin-failed',
      path: ['collections', collection, 'body'],
      parameters,
    }
    return { reader: createBodyReader({ ...options, settings }), problems: [problem] }
  }
}
