import type { ChangeAnswer, ChangeOptions, ChangeRequest } from './change-request.ts'

/**
 * Makes a change of a site: proved before it is written, by a check of the site as it would be. Where that finds a problem that was
 * not there before, nothing is written. Comments and layout stay as they are; all files are written, or none.
 *
 * Diagnostics: all of `checkSite`.
 *
 * @example
 * ```ts
 * import { changeSite, createNodeHost } from 'zinc-pantry/engine'
 *
 * const options = { host: createNodeHost('.'), configurationFile: 'pantry.config.ts', dryRun: true }
 * const answer = await changeSite(options, { kind: 'rename', target: 'huts/gable', name: 'crag' })
 * if ('change' in answer) for (const { kind, reason } of answer.change.steps) console.log(kind, reason)
 * ```
 */
export async function changeSite(options: ChangeOptions, request: ChangeRequest): Promise<ChangeAnswer> {
  // Who imports the engine does not wait for all that changes take.
  const [{ examineSite }, { changeExamined }] = await Promise.all([
    import('./run-site.ts'),
    import('./change-examined.ts'),
  ])
  // Drafts are renamed too.
  const site = await examineSite({ ...options, drafts: true, isShared: true })
  return changeExamined(site, options, request)
}
