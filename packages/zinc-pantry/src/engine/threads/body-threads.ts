import type { Host, Thread } from '../../host/host.ts'
import { bodyDemandsOf, type CollectionModel, type Model } from '../../schema/model.ts'
import { writeModelText } from '../cache/model-text.ts'
import type { SiteMemory } from '../cache/site-memory.ts'
import type { RenderAnswer, RenderedCollection, RenderQuestion, RenderSettings } from './render-task.ts'

/** Other threads that render bodies, once there are enough to make them worth starting. */
export interface BodyThreads {
  /** The number of things that are worth doing at once; 1 while there are no threads. */
  atOnce(): number
  /** Has a body rendered, which is described when a thread is there for it; undefined where it is to be rendered here. */
  render(
    collection: CollectionModel,
    describe: () => Omit<RenderQuestion, 'collection'> | undefined,
  ): Promise<RenderAnswer | undefined> | undefined
  /** Renders a body here, and takes the time. */
  renderHere<Result>(work: () => Promise<Result>): Promise<Result>
  /** Must be called in any case. */
  end(): void
}

/** The number of questions that a thread is given at once, so that it need not wait for the next. */
const QUESTIONS_A_THREAD = 3

/** Opens the threads of a run over a site. */
export function openBodyThreads(
  model: Model,
  { host, memory }: { readonly host: Host; readonly memory: Pick<SiteMemory, 'hasMaps'> },
): BodyThreads {
  const { collections, blocks } = model
  const { threads } = host
  if (!threads || threads.count === 0) return NO_THREADS
  const settings: RenderSettings = {
    blocks: [...blocks],
    open: [...(blocks.open ?? [])],
    ...bodyDemandsOf(model),
    hasMaps: memory.hasMaps,
    compilesMdx: host.environment('ZINC_PANTRY_MDX') === 'compiler',
    // Functions cannot be handed over.
    collections: hasCode(blocks)
      ? []
      : collections.filter(({ body }) => body && !hasCode(body)).map(describeCollection),
  }
  const names = new Set(settings.collections.map(({ name }) => name))
  let started: readonly Thread[] = []
  let spentMs = 0
  let isEnded = false
  const ready = (): readonly Thread[] => started.filter(({ isReady }) => isReady)
  return {
    atOnce: () => 1 + ready().length * QUESTIONS_A_THREAD,
    render({ name }, describe) {
      if (isEnded || !names.has(name)) return undefined
      if (started.length === 0 && spentMs >= threads.startAfterMs)
        started = Array.from({ length: threads.count }, () => threads.start('render-task', settings))
      const [first, ...others] = ready()
      if (!first) return undefined
      const question = describe()
      if (!question) return undefined
      const free = others.reduce((least, one) => (one.pending() < least.pending() ? one : least), first)
      return free.ask({ collection: name, ...question }) as Promise<RenderAnswer | undefined>
    },
    async renderHere(work) {
      const from = host.now()
      const result = await work()
      spentMs += host.now() - from
      return result
    },
    end() {
      for (const thread of started) thread.end()
      started = []
      isEnded = true
    },
  }
}

/** Where everything is done in this one. */
export const NO_THREADS: BodyThreads = {
  atOnce: () => 1,
  render: () => undefined,
  renderHere: (work) => work(),
  end: () => undefined,
}

/** True where the plain text of bodies is searched. */
export const isBodySearched = ({ search }: Pick<CollectionModel, 'search'>): boolean =>
  search.some(({ path }) => path[0] === 'body')

const hasCode = (part: unknown): boolean => writeModelText(part).hasCode

const describeCollection = ({ name, body, trusted, search }: CollectionModel): RenderedCollection => ({
  ...{ name, body, trusted },
  isSearched: isBodySearched({ search }),
})
