import { useEffect, useReducer, useRef } from 'react'
import type { RowsQuestion } from 'zinc-pantry/inspect'
import { useNews } from '../site/news.ts'
import { RowStore } from './row-store.ts'

/** The rows of the answer to a question; those of the last stand until there are others. */
export function useRows(question: RowsQuestion | undefined): {
  readonly store: RowStore | undefined
  readonly isAsking: boolean
} {
  const revision = useNews().status?.revision ?? 0
  const [, redraw] = useReducer((count: number) => count + 1, 0)
  const shown = useRef<RowStore>(undefined)
  const next = useRef<RowStore>(undefined)
  const key = question && JSON.stringify([question, revision])
  // biome-ignore lint/correctness/useExhaustiveDependencies: the question is compared by its text.
  useEffect(() => {
    if (!question) return
    const store = new RowStore(question, () => {
      if (next.current === store && (store.state.total !== undefined || store.state.problem)) {
        shown.current?.close()
        shown.current = store
        next.current = undefined
      }
      redraw()
    })
    next.current?.close()
    next.current = store
    return () => store.close()
  }, [key])
  return { store: shown.current, isAsking: next.current !== undefined }
}
