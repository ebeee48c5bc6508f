import type { Host } from 'zinc-pantry/engine'
import { makeTask } from '../dist/bundle/render-task.js'

export type Threads = NonNullable<Host['threads']>

/** Threads that are none: what goes in and what comes out is plain data all the same. */
export function pretendedThreads(
  change: (answer: unknown, number: number) => unknown = (answer) => answer,
): Threads & { readonly answered: number } {
  const own = {
    ...{ count: 2, startAfterMs: 0, answered: 0 },
    start(_name: string, data: unknown) {
      const task = makeTask(structuredClone(data) as never, {})
      let pending = 0
      return {
        isReady: true,
        pending: () => pending,
        async ask(question: unknown) {
          pending++
          const answer = await (await task)(structuredClone(question)).catch(() => undefined)
          pending--
          return change(structuredClone(answer), own.answered++)
        },
        end: () => undefined,
      }
    },
  }
  return own
}
