import { explainCode } from '../diagnostics/explain.ts'
import { createPlaceRenderer, type PlaceJson } from '../diagnostics/render-json.ts'
import { refuseTarget, resolveTarget } from '../engine/change/resolve-target.ts'
import { type AccountView, describeAccount } from '../engine/describe/describe-account.ts'
import { describeModel } from '../engine/describe/describe-fields.ts'
import { describeOverview, type OverviewView } from '../engine/describe/describe-overview.ts'
import {
  describePages,
  findPages,
  type PagesQuestion,
  type PagesView,
  type PageView,
} from '../engine/describe/describe-pages.ts'
import { describePart, type PartDescription } from '../engine/describe/describe-part.ts'
import { describeProblems } from '../engine/describe/describe-problems.ts'
import type { SiteView } from '../engine/describe/site-view.ts'
import type { CallContext, CallRefusal } from './call-context.ts'
import type { InspectedSite } from './inspected-site.ts'
import { drawModel, type ModelDiagram } from './model-diagram.ts'

/** A part of the model, at the places where it stands. */
export interface PartView extends Omit<PartDescription, 'declared' | 'named'> {
  readonly declared: readonly PlaceJson[]
  readonly named: readonly PlaceJson[]
}

/** Makes what a page asks of a site as a whole. */
export function createLookCalls({ site, withView }: CallContext) {
  const { host, followed } = site
  let told: { readonly view: SiteView; readonly overview: OverviewView } | undefined
  let listed: { readonly view: SiteView; readonly pages: readonly PageView[] } | undefined
  const pagesOf = (view: SiteView): readonly PageView[] => {
    if (listed?.view !== view) listed = { view, pages: describePages(view) }
    return listed.pages
  }
  return {
    async status() {
      await site.view()
      return site.status()
    },
    overview: () =>
      withView((view) => {
        if (told?.view !== view) told = { view, overview: describeOverview(view, (file) => host.times?.(file)?.last) }
        return { ...told.overview, output: sizeOfOutput(site, view), log: site.log() }
      }),
    /** What the last check did with a file, and what depends on it. */
    account: ({ file }: { readonly file: string }): Promise<AccountView | CallRefusal> =>
      withView<AccountView | CallRefusal>(() => {
        const account = followed.live.account(file)
        return account ? describeAccount(account) : { refused: 'It was not checked yet' }
      }),
    model: () => withView((view) => describeModel(view)),
    diagram: (): Promise<ModelDiagram | CallRefusal> => withView((view) => drawModel(describeModel(view))),
    /** A field, a value of a choice or a block: where it stands, and what uses it. */
    part: ({ target }: { readonly target: string }): Promise<PartView | CallRefusal> =>
      withView<PartView | CallRefusal>(async ({ site: examined, model }) => {
        const subject = { model, collections: examined.checked.collections, files: examined.listing }
        const found = resolveTarget(subject, target)
        if (!found || !('symbol' in found)) return refuseTarget(subject, target)
        const options = { host, configurationFile: followed.configurationFile }
        const { declared, named, ...part } = await describePart(found, { model, checked: examined.checked }, options)
        const placeOf = createPlaceRenderer(site.textOf)
        return { ...part, declared: declared.map(placeOf), named: named.map(placeOf) }
      }),
    pages: (question: PagesQuestion): Promise<PagesView | CallRefusal> =>
      withView((view) => findPages(pagesOf(view), question)),
    async problems() {
      const [view, diagnostics] = [await site.view(), await site.problems()]
      return describeProblems(diagnostics, { textOf: site.textOf, view })
    },
    async explain({ code }: { readonly code: string }) {
      const explained = explainCode(code)
      return 'meaning' in explained ? explained : { refused: `There is no code "${code}"` }
    },
  }
}

/** The size of the last output, where there is one. */
function sizeOfOutput(
  { host }: InspectedSite,
  { model }: SiteView,
): { readonly files: number; readonly bytes: number } | undefined {
  const listing = host.list(model.output)
  if (!listing) return undefined
  const sizes = listing.files.map((file) => host.size(`${model.output}/${file}`) ?? 0)
  return { files: sizes.length, bytes: sizes.reduce((sum, size) => sum + size, 0) }
}
