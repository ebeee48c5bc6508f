import type { SiteView } from '../engine/describe/site-view.ts'
import type { LinkedEntry } from '../validate/entry.ts'
import type { InspectedSite } from './inspected-site.ts'

/** Why a call has no answer, in words for people. */
export interface CallRefusal {
  readonly refused: string
  readonly help?: string | undefined
}

/** An entry by its name, in one of its languages. */
export interface EntryName {
  readonly collection: string
  readonly id: string
  readonly locale?: string | undefined
}

export const NO_VIEW: CallRefusal = {
  refused: 'The configuration has errors',
  help: 'Mend them first: see the problems',
}

/** What calls ask a site by. */
export interface CallContext {
  readonly site: InspectedSite
  /** Answers of the site as it was checked last; refused where its configuration never was right. */
  withView<Answer>(answer: (view: SiteView) => Answer | Promise<Answer>): Promise<Answer | CallRefusal>
  /** Answers of an entry; refused where there is none. */
  withEntry<Answer>(
    name: EntryName,
    answer: (entry: LinkedEntry, view: SiteView) => Answer | Promise<Answer>,
  ): Promise<Answer | CallRefusal>
}

/** Makes what calls ask a site by. */
export function createCallContext(site: InspectedSite): CallContext {
  const withView: CallContext['withView'] = async (answer) => {
    site.asked()
    const view = await site.view()
    return view ? answer(view) : NO_VIEW
  }
  return {
    site,
    withView,
    withEntry: <Answer>(
      { collection, id, locale }: EntryName,
      answer: (entry: LinkedEntry, view: SiteView) => Answer | Promise<Answer>,
    ) =>
      withView<Answer | CallRefusal>((view) => {
        const entry = view.find(collection, id, locale)
        return entry ? answer(entry, view) : { refused: `There is no entry ${collection}/${id}` }
      }),
  }
}
