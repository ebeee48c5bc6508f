import type { Diagnostic } from '../diagnostics/diagnostic.ts'
import type { ChangeAnswer, ChangeRequest } from '../engine/change-request.ts'
import { type FollowedSite, followSite } from '../engine/follow-site.ts'
import type { LiveSite } from '../engine/live-site.ts'
import { readText } from '../engine/read-text.ts'
import type { ExaminedSite } from '../engine/run-site.ts'
import type { Host } from '../host/host.ts'
import { type EditorSite, openEditorSite } from './editor-site.ts'

/** A site that an editor has documents of. */
export interface SiteFolder {
  /** The absolute path of the folder of its configuration. */
  readonly root: string
  readonly live: LiveSite
  readonly configurationFile: string
  /** Lays a text over a file; it is checked soon. */
  setText(file: string, text: string | undefined): void
  /** The site, once all that was typed so far is checked. */
  settled(): Promise<EditorSite | undefined>
  /** The site as it was checked last, once it was. */
  ready(): Promise<EditorSite | undefined>
  /** The text of a file, as it is in an editor or else on the disk. */
  textOf(file: string): string | undefined
  /** Plans a change and proves it; nothing is written. */
  plan(request: ChangeRequest): Promise<ChangeAnswer | undefined>
  close(): Promise<void>
}

/** The site of a folder, and who is told what is found in it. */
export interface FolderOptions {
  readonly host: Host
  readonly root: string
  readonly configurationFile: string
  /** Called with what the last process found, after each check, and again where bodies of MDX that were compiled have more. */
  onCheck(folder: SiteFolder, diagnostics: readonly Diagnostic[]): void
}

/** Opens the site of a folder for an editor. */
export function openSiteFolder({ host, root, configurationFile, onCheck }: FolderOptions): SiteFolder {
  const followed: FollowedSite = followSite({
    ...{ host, configurationFile },
    onCheck: (diagnostics) => onCheck(folder, diagnostics),
  })
  const { live, setText, close } = followed
  let opened: { readonly site: ExaminedSite; readonly editorSite: EditorSite | undefined } | undefined
  const openLatest = (site: ExaminedSite | undefined): EditorSite | undefined => {
    if (site && opened?.site !== site) opened = { site, editorSite: openEditorSite(site, root) }
    return opened?.editorSite
  }
  const folder: SiteFolder = {
    ...{ root, live, configurationFile, setText, close },
    settled: async () => openLatest(await followed.settled()),
    ready: async () => openLatest(await followed.ready()),
    textOf: (file) => live.current()?.report.textOf(file) ?? readText(live.host, file),
    plan: (request) => followed.change(request, { dryRun: true }),
  }
  return folder
}
