import { dirname, join, relative, sep } from 'node:path'
import { fileURLToPath, pathToFileURL } from 'node:url'
import type { PublishDiagnosticsParams } from 'vscode-languageserver/node'
import { type Diagnostic, hasErrors, messageOf } from '../diagnostics/diagnostic.ts'
import { groupBy } from '../diagnostics/group-by.ts'
import type { ChangeReport } from '../engine/change-request.ts'
import { findConfigurationFile } from '../engine/configuration-file.ts'
import type { Host } from '../host/host.ts'
import type { EditorSite } from './editor-site.ts'
import type { OpenDocuments } from './open-documents.ts'
import { asDiagnostic, type ProtocolPlaces } from './protocol-answers.ts'
import { openSiteFolder, type SiteFolder } from './site-folder.ts'
import { createTextPositions, type PositionEncoding, type TextPositions } from './text-positions.ts'

/** Opens folders of the machine. */
export interface WorkspaceHosts {
  openHost(folder: string): Host
}

/** A file of a site, as an editor has it open or as it is on the disk. */
export interface WorkspaceFile {
  readonly folder: SiteFolder
  /** Relative to the site's root. */
  readonly file: string
  text(): string
  positions(): TextPositions
}

/** The surroundings of a workspace. */
export interface WorkspaceContext {
  readonly documents: OpenDocuments
  encoding(): PositionEncoding
  publish(params: PublishDiagnosticsParams): void
  explain(code: string): string
}

/** The sites that an editor has open. */
export interface Workspace {
  addFolder(path: string): void
  removeFolder(path: string): void
  /** Is told of a document that was opened, changed or closed. */
  textChanged(uri: string): void
  fileOf(uri: string): WorkspaceFile | undefined
  placesOf(folder: SiteFolder): ProtocolPlaces
  diagnosticOf(diagnostic: Diagnostic, folder: SiteFolder): ReturnType<typeof asDiagnostic>
  sites(): Promise<readonly { readonly folder: SiteFolder; readonly site: EditorSite }[]>
  /** Why a change that was planned is not made; nothing where it is. */
  whyHeld(answer: ChangeReport): readonly string[]
  close(): Promise<void>
}

/** Of one file so many problems are told: no editor shows more, and tens of thousands keep it busy. */
const MOST_PROBLEMS = 2_000

/** Opens a workspace. The site of a document is the one of the nearest folder above it that has a configuration. */
export function createWorkspace({ openHost }: WorkspaceHosts, context: WorkspaceContext): Workspace {
  const { documents, encoding, publish, explain } = context
  const folders = new Map<string, SiteFolder>()
  /** What was published last, by address. */
  const published = new Map<string, string>()
  /** The root of the site of a folder; undefined where it belongs to none. */
  const rootOf = (folder: string): { readonly root: string; readonly configurationFile: string } | undefined => {
    for (let at = folder; ; at = dirname(at)) {
      const configurationFile = findConfigurationFile(openHost(at))
      if (configurationFile) return { root: at, configurationFile }
      if (dirname(at) === at) return undefined
    }
  }
  const open = (folder: string): SiteFolder | undefined => {
    const found = rootOf(folder)
    if (!found) return undefined
    const known = folders.get(found.root)
    if (known) return known
    const opened = openSiteFolder({ ...found, host: openHost(found.root), onCheck: report })
    folders.set(found.root, opened)
    return opened
  }
  const uriOf = ({ root }: SiteFolder, file: string): string => pathToFileURL(join(root, file)).href
  const placesOf = (folder: SiteFolder): ProtocolPlaces => {
    const texts = new Map<string, TextPositions>()
    return {
      uriOf: (file) => uriOf(folder, file),
      versionOf: (file) => documents.get(uriOf(folder, file))?.version ?? null,
      positionsIn(file) {
        const text = folder.textOf(file) ?? ''
        const document = documents.get(uriOf(folder, file))
        if (document && withoutMark(document.text) === text) return document.positions
        const known = texts.get(file) ?? createTextPositions(text, encoding())
        texts.set(file, known)
        return known
      },
    }
  }
  const report = (folder: SiteFolder, diagnostics: readonly Diagnostic[]): void => {
    const places = placesOf(folder)
    const byFile = groupBy(diagnostics, ({ file }) => file)
    const told = new Set<string>()
    for (const [file, own] of byFile) {
      const uri = places.uriOf(file)
      told.add(uri)
      tell(
        uri,
        own.slice(0, MOST_PROBLEMS).map((one) => asDiagnostic(one, places, explain)),
        places.versionOf(file),
      )
    }
    const start = pathToFileURL(folder.root + sep).href
    for (const uri of published.keys())
      if (uri.startsWith(start) && !told.has(uri) && nearest(fileURLToPath(uri)) === folder)
        tell(uri, [], documents.get(uri)?.version ?? null)
  }
  const tell = (uri: string, diagnostics: PublishDiagnosticsParams['diagnostics'], version: number | null): void => {
    const text = JSON.stringify(diagnostics)
    if (published.get(uri) === text) return
    if (diagnostics.length === 0) published.delete(uri)
    else published.set(uri, text)
    publish({ uri, diagnostics, ...(version === null ? {} : { version }) })
  }
  /** The site, of those that are open, that a file belongs to. */
  const nearest = (path: string): SiteFolder | undefined =>
    [...folders.values()]
      .filter(({ root }) => path.startsWith(root + sep))
      .sort((a, b) => b.root.length - a.root.length)[0]
  const locate = (uri: string): { readonly folder: SiteFolder; readonly file: string } | undefined => {
    if (!uri.startsWith('file:')) return undefined
    const path = fileURLToPath(uri)
    const folder = open(dirname(path))
    return folder && { folder, file: relative(folder.root, path).split(sep).join('/') }
  }
  const close = async (folder: SiteFolder): Promise<void> => {
    folders.delete(folder.root)
    for (const uri of [...published.keys()])
      if (uri.startsWith(pathToFileURL(folder.root + sep).href)) tell(uri, [], null)
    await folder.close()
  }
  return {
    addFolder: (path) => void open(path),
    removeFolder(path) {
      for (const folder of [...folders.values()])
        if (folder.root === path || folder.root.startsWith(path + sep)) void close(folder)
    },
    textChanged(uri) {
      const found = locate(uri)
      const document = documents.get(uri)
      found?.folder.setText(found.file, document && withoutMark(document.text))
    },
    fileOf(uri) {
      const found = locate(uri)
      if (!found) return undefined
      const { folder, file } = found
      const document = documents.get(uri)
      const text = (): string => document?.text ?? folder.textOf(file) ?? ''
      return { folder, file, text, positions: () => document?.positions ?? createTextPositions(text(), encoding()) }
    },
    placesOf,
    diagnosticOf: (diagnostic, folder) => asDiagnostic(diagnostic, placesOf(folder), explain),
    async sites() {
      const opened = await Promise.all(
        [...folders.values()].map(async (folder) => ({ folder, site: await folder.settled() })),
      )
      return opened.flatMap(({ folder, site }) => (site ? [{ folder, site }] : []))
    },
    whyHeld({ change, problems, changed }) {
      if (changed.length > 0) return [`Changed in the meantime: ${changed.join(', ')}`]
      const errors = problems.diagnostics.filter(({ severity }) => severity === 'error')
      if (hasErrors(errors)) return [`It would make new problems: ${errors.slice(0, 3).map(messageOf).join('; ')}`]
      return change.steps.length === 0 ? ['There is nothing to change'] : []
    },
    async close() {
      await Promise.all([...folders.values()].map(close))
    },
  }
}

/** A text without the byte order mark that some editors leave in it. */
const withoutMark = (text: string): string => (text.startsWith('\ufeff') ? text.slice(1) : text)
