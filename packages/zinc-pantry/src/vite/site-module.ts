import type { EmittedCollection, ModuleForm } from '../emit/site-module.ts'

/** How a bundler reaches what a module of a site loads. */
export interface Addresses {
  /** The code that gives a module of the output, by its path there. */
  load(path: string): string
  /** The code of a function body that gives a chunk of rows or of an index, by its `kind` and `name`. */
  loadChunk(collection: EmittedCollection): string
  /** The name of the module with the bodies of a collection; undefined where it has none. */
  bodies(collection: string): string | undefined
  /** True where the module can be replaced in a running page. */
  readonly isHot: boolean
}

/** The form of the module that stands for that of an output, while a bundler serves it. */
export const createBundledForm = ({ load, loadChunk, bodies, isHot }: Addresses): ModuleForm => ({
  head: [
    ...(isHot ? ["import * as $hot from 'zinc-pantry/vite/client'\n"] : []),
    // Bundlers take an address that is worked out from this for a search for files.
    'const $url = import.meta.url\n',
  ],
  open: (list) => (isHot ? `$hot.openHotSite(import.meta.hot, ${list})` : `$.openSite(${list})`),
  load,
  chunk(collection) {
    const list = bodies(collection.name)
    return [
      'async chunk(kind, name) {',
      ...(list === undefined
        ? []
        : [`  if (kind === 'bodies') return (await import(${JSON.stringify(list)})).chunk(name)`]),
      `  ${loadChunk(collection)}`,
      '},',
    ]
  },
  foot: isHot ? ['import.meta.hot?.accept()\n'] : [],
})
