import { useEffect, useState } from 'react'
import type { CallAnswer, CallName, CallParameters, CallRefusal } from 'zinc-pantry/inspect'
import { call, isRefusal } from './calls.ts'
import { useNews } from './news.ts'

/** The answer to a call, as far as there is one. */
export interface Asked<Answer> {
  readonly answer: Exclude<Answer, CallRefusal> | undefined
  /** Why there is none. */
  readonly refused: CallRefusal | undefined
  /** True while a newer answer is on its way. */
  readonly isAsking: boolean
}

/**
 * Asks the server, and again whenever the site changes; the last answer stands until the next is there. With `keepsLast` that of another
 * question stands as well, for what would be empty for a moment otherwise.
 */
export function useCall<Name extends CallName>(
  name: Name,
  parameters: CallParameters<Name> | undefined,
  { keepsLast = false }: { readonly keepsLast?: boolean } = {},
): Asked<CallAnswer<Name>> {
  const { status } = useNews()
  const revision = status?.revision ?? 0
  const key = parameters === undefined ? undefined : JSON.stringify(parameters)
  const [state, setState] = useState<{ readonly key: string | undefined; readonly given: Asked<CallAnswer<Name>> }>({
    key: undefined,
    given: NOTHING,
  })
  // biome-ignore lint/correctness/useExhaustiveDependencies: the parameters are compared by their text.
  useEffect(() => {
    if (key === undefined) return
    const controller = new AbortController()
    setState(({ key: last, given }) => ({
      key,
      given: last === key || keepsLast ? { ...given, isAsking: true } : NOTHING,
    }))
    call(name, parameters as CallParameters<Name>, controller.signal).then(
      (answer) => setState({ key, given: asGiven(answer) }),
      (error: unknown) => {
        if (!controller.signal.aborted)
          setState({ key, given: { ...NOTHING, isAsking: false, refused: { refused: wordsOf(error) } } })
      },
    )
    return () => controller.abort()
  }, [name, key, revision])
  return state.given
}

const NOTHING: Asked<never> = { answer: undefined, refused: undefined, isAsking: true }

const asGiven = <Answer>(answer: Answer): Asked<Answer> =>
  isRefusal(answer)
    ? { answer: undefined, refused: answer, isAsking: false }
    : { answer: answer as Exclude<Answer, CallRefusal>, refused: undefined, isAsking: false }

/** What went wrong, for people. */
export const wordsOf = (error: unknown): string => (error instanceof Error ? error.message : String(error))
