import { useEffect, useState } from 'react'
import type { CallParameters, CallRefusal, ChangeView } from 'zinc-pantry/inspect'
import { call } from '../site/calls.ts'
import { useNews } from '../site/news.ts'
import { wordsOf } from '../site/use-call.ts'

type ChangeCall = CallParameters<'change'>

/** Typing comes to rest before it is tried out. */
const TYPING_MS = 300

/** What a change would be, tried out while somebody types. */
export interface Trial {
  readonly change: ChangeView | undefined
  readonly refused: CallRefusal | undefined
  /** True until what was typed last is tried out. */
  readonly isTrying: boolean
}

/** Tries a change out whenever it is another one. */
export function useTrial(wanted: Omit<ChangeCall, 'dryRun'> | undefined): Trial {
  const revision = useNews().status?.revision ?? 0
  const key = wanted && JSON.stringify(wanted)
  const [trial, setTrial] = useState<Trial & { readonly key?: string | undefined }>(NONE)
  // biome-ignore lint/correctness/useExhaustiveDependencies: the change is compared by its text.
  useEffect(() => {
    if (!wanted) {
      setTrial(NONE)
      return
    }
    const controller = new AbortController()
    setTrial((last) => ({ ...last, isTrying: true }))
    const timer = setTimeout(() => {
      call('change', { ...wanted, dryRun: true }, controller.signal).then(
        (answer) => {
          if ('stale' in answer) setTrial({ ...NONE, key })
          else if ('refused' in answer) setTrial({ change: undefined, refused: answer, isTrying: false, key })
          else setTrial({ change: answer, refused: undefined, isTrying: false, key })
        },
        (error: unknown) => {
          if (!controller.signal.aborted)
            setTrial({ change: undefined, refused: { refused: wordsOf(error) }, isTrying: false, key })
        },
      )
    }, TYPING_MS)
    return () => {
      clearTimeout(timer)
      controller.abort()
    }
  }, [key, revision])
  return { ...trial, isTrying: trial.isTrying || (key !== undefined && trial.key !== key) }
}

const NONE: Trial = { change: undefined, refused: undefined, isTrying: false }
