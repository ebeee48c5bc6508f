import type { Attention, Change, Refusal } from '../change/change.ts'
import { contentsOf, findStale } from '../change/contents.ts'
import type { ChangeSubject } from '../change/subject.ts'
import { type Diagnostic, hasErrors, messageOf } from '../diagnostics/diagnostic.ts'
import type { TextSource } from '../diagnostics/render-text.ts'
import { createExtractPlanner } from './change/extract-planner.ts'
import { createImportPlanner } from './change/import-planner.ts'
import { createMendPlanner } from './change/mend-planner.ts'
import { type Ask, createNewPlanner } from './change/new-planner.ts'
import type { Planner } from './change/planner.ts'
import { createMovePlanner } from './change/relocate-planner.ts'
import { createRemovalPlanner } from './change/removal-planner.ts'
import { createRenamePlanner } from './change/rename-planner.ts'
import { createSetPlanner } from './change/set-planner.ts'
import { createWritePlanner } from './change/write-planner.ts'
import { applyContents } from './change-journal.ts'
import type { ChangeAnswer, ChangeOptions, ChangeRequest } from './change-request.ts'
import { locateSetting } from './configuration/locate-setting.ts'
import { openConfiguration } from './configuration/open-configuration.ts'
import { rememberLinks } from './link-locator.ts'
import { overlayHost } from './overlay-host.ts'
import { readBytes, readText } from './read-text.ts'
import { type CheckedSite, type ExaminedSite, examineSite } from './run-site.ts'
import type { SiteOptions } from './site-report.ts'

/** The same as `changeSite` for a site that was examined, drafts included, whose results are shared. */
export async function changeExamined(
  site: ExaminedSite,
  { dryRun = false, anyway = false, ask, ...options }: ChangeOptions,
  request: ChangeRequest,
): Promise<ChangeAnswer> {
  const { host } = options
  const { report, model } = site
  if (!model) return { ...report, refused: 'The configuration has errors' }
  const subject = await createSubject(site, model)
  const planner = await createPlanner(request, site, { subject, options, ask })
  if ('refused' in planner) return { ...report, ...planner }
  const first = planner.plan(subject)
  if ('refused' in first) return { ...report, ...first }
  const tryOut = async (change: Change) => {
    const contents = contentsOf(change, (file) => readBytes(host, file))
    const seed = { memory: site.memory, changed: new Set(contents.after.keys()) }
    const overlaid = { host: overlayHost(host, contents.after), isShared: true, seed }
    return { change, contents, ...(await examineSite({ ...options, drafts: true, cache: false, ...overlaid })) }
  }
  let tried = await tryOut(first)
  const whole = planner.planSeen?.(subject, tried.checked)
  if (whole && !('refused' in whole)) {
    const isSame = JSON.stringify(whole.steps) === JSON.stringify(first.steps)
    tried = isSame ? { ...tried, change: whole } : await tryOut(whole)
  }
  const other = planner.refuse(subject, tried.checked)
  if (other) return { ...report, ...other }
  const attention = [...tried.change.attention, ...(await findFunctions(subject, planner, options))]
  const change = { ...tried.change, attention }
  const { before, after } = tried.contents
  const outside = [...after.keys()].find(isOutside)
  if (outside !== undefined) return { ...report, refused: `${outside} lies outside of the site` }
  const fresh = freshProblems(report.diagnostics, tried.report.diagnostics)
  const isExpected = (problem: Diagnostic): boolean => planner.isExpected?.(problem) === true
  const isHeldBy = fresh.filter((one) => !isExpected(one))
  const placed = isHeldBy.map((one) => planner.placeProblem?.(one, tried.checked) ?? one)
  const textOf: TextSource = (file) => tried.report.textOf(file) ?? readText(host, file)
  const problems = { ...tried.report, textOf, diagnostics: placed }
  const unfilled = fresh.filter(isExpected)
  const changed = findStale(before, subject.textOf)
  const outcome = tried.report
  const answer = { ...report, outcome, change, before, after, problems, unfilled, isWritten: false, changed }
  const isHeld = answer.changed.length > 0 || (hasErrors(problems.diagnostics) && !anyway)
  if (dryRun || change.steps.length === 0 || isHeld) return answer
  const applied = await applyContents(host, { words: change.words, before, after })
  return 'changed' in applied ? { ...answer, changed: applied.changed } : { ...answer, isWritten: true }
}

/** True for a path that leads out of the site. */
export const isOutside = (file: string): boolean =>
  /^(?:[/\\]|[a-z]:)/i.test(file) || file.split(/[/\\]/).includes('..')

interface Planning {
  readonly subject: ChangeSubject
  readonly options: SiteOptions
  readonly ask: Ask | undefined
}

/** Makes what plans a change; it asks the site what is meant. */
async function createPlanner(
  request: ChangeRequest,
  checked: CheckedSite,
  { subject, options: { host, configurationFile }, ask }: Planning,
): Promise<Planner | Refusal> {
  const textOf = (file: string): string | undefined => readText(host, file)
  const open = () => openConfiguration(configurationFile, textOf)
  switch (request.kind) {
    case 'rename':
      return createRenamePlanner(request, subject, await open())
    case 'extract': {
      const text = textOf(configurationFile) ?? ''
      return createExtractPlanner(request, subject, { configuration: await open(), configurationFile, text })
    }
    case 'import': {
      const { readForeign } = await import('./change/read-foreign.ts')
      const foreign = await readForeign(request, checked, host)
      return 'refused' in foreign ? foreign : createImportPlanner(request, subject, foreign)
    }
    case 'new':
      return createNewPlanner(request, subject, { now: host.clock(), ask })
    case 'move':
      return createMovePlanner(request, subject, await open())
    case 'remove':
      return createRemovalPlanner(request, subject, { configuration: await open(), textOf })
    case 'mend':
      return createMendPlanner(request, checked.report.diagnostics)
    case 'write':
      return createWritePlanner(request)
    case 'set': {
      const { openChecked } = await import('./open-content.ts')
      const { answerQuestion } = await import('./answer-question.ts')
      const { site } = await openChecked(checked, { incomplete: true })
      const { collection, where, locale } = request
      const answer = await answerQuestion(site, { collection, where, locale, fields: 'id' })
      if ('problem' in answer) return { refused: answer.problem.message, help: answer.problem.help }
      const ids = new Set(answer.rows.map(([id]) => String(id)))
      return createSetPlanner({ ...request, locale: locale ?? site.locales[0] }, ids)
    }
  }
}

/** Functions of the configuration that name what is changed: they are not rewritten. */
async function findFunctions(
  { model }: ChangeSubject,
  planner: Planner,
  { host, configurationFile: file }: SiteOptions,
): Promise<readonly Attention[]> {
  const found = planner.functionsThatName?.(model) ?? []
  const text = found.length > 0 ? (readText(host, file) ?? '') : ''
  return Promise.all(
    found.map(async ({ path, words }): Promise<Attention> => {
      return { place: { file, span: await locateSetting(text, path) }, words }
    }),
  )
}

async function createSubject(
  { checked, listing }: CheckedSite & { readonly listing: readonly string[] },
  model: ChangeSubject['model'],
): Promise<ChangeSubject> {
  const { collections, resolveLink, bodies, textOf } = checked
  // What is known of a body beside its summary takes a parse.
  await bodies?.prepare(collections.flatMap(({ entries }) => entries.flatMap(({ body }) => body ?? [])))
  return {
    headingsOf: ({ body }) => (body && bodies?.headingsOf(body)) ?? [],
    factsOf: ({ body }) => body && bodies?.factsOf(body),
    ...{ model, collections, resolveLink, textOf },
    files: listing,
    locateLinks: rememberLinks((entry, isFine) => bodies?.locateLinks(entry, isFine) ?? { body: [], texts: [] }),
  }
}

/** Problems that are there after a change and were not there before, whatever place and file they have now. */
function freshProblems(before: readonly Diagnostic[], after: readonly Diagnostic[]): readonly Diagnostic[] {
  const known = new Map<string, number>()
  const keyOf = (one: Diagnostic): string => `${one.code} ${messageOf(one)}`
  for (const one of before) known.set(keyOf(one), (known.get(keyOf(one)) ?? 0) + 1)
  return after.filter((one) => {
    const left = known.get(keyOf(one)) ?? 0
    known.set(keyOf(one), left - 1)
    return left <= 0
  })
}
