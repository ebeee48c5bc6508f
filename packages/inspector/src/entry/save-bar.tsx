import { useState } from 'react'
import { Button } from 'react-aria-components/Button'
import type { CallParameters, CallRefusal } from 'zinc-pantry/inspect'
import { plural } from '../parts/words.ts'
import { call, isRefusal } from '../site/calls.ts'
import { wordsOf } from '../site/use-call.ts'
import type { DraftState } from './use-draft.ts'
import type { Trial } from './use-trial.ts'

/** Says what is typed and not written, and writes it. */
export function SaveBar({
  state,
  trial,
  wanted,
}: {
  readonly state: DraftState
  readonly trial: Trial
  readonly wanted: Omit<CallParameters<'change'>, 'dryRun'> | undefined
}) {
  const [isBusy, setBusy] = useState(false)
  const [refused, setRefused] = useState<CallRefusal>()
  const { change, isTrying } = trial
  const save = async (anyway: boolean): Promise<void> => {
    if (!wanted) return
    setBusy(true)
    setRefused(undefined)
    try {
      const answer = await call('change', { ...wanted, dryRun: false, anyway })
      if (isRefusal(answer)) setRefused(answer)
      else if (!('stale' in answer)) {
        if (answer.isWritten) await restart()
        else setRefused({ refused: whyNotWritten(answer.changed, answer.problems.length, answer.attention.length) })
      }
    } catch (error) {
      setRefused({ refused: wordsOf(error) })
    }
    setBusy(false)
  }
  const restart = async (): Promise<void> => {
    const { request } = wanted ?? {}
    if (request?.kind !== 'write') return
    const { collection, id, locale } = request
    const now = await call('entry', { collection, id, ...(locale === undefined ? {} : { locale }) })
    if (!isRefusal(now)) state.restart(now)
  }
  const fresh = (change?.problems ?? []).filter(({ severity }) => severity === 'error').length
  const errors = (change?.own ?? []).filter(({ severity }) => severity === 'error').length
  return (
    <section className="save-bar" aria-label="What is not written yet">
      <span role="status">
        {refused ? (
          <strong className="error">{refused.refused}</strong>
        ) : state.stale ? (
          'The file is another by now: see above'
        ) : isTrying ? (
          'It is tried out…'
        ) : trial.refused ? (
          <strong className="error">{trial.refused.refused}</strong>
        ) : change && change.steps.length === 0 ? (
          'There is nothing that would be written'
        ) : fresh > 0 ? (
          <span className="error">{plural(fresh, 'error')} in what you have typed</span>
        ) : errors > 0 ? (
          `It can be written; ${plural(errors, 'error')} stay${errors === 1 ? 's' : ''}`
        ) : (
          'It can be written'
        )}
      </span>
      <Button
        className="button"
        isDisabled={isBusy}
        onPress={() => state.change({ record: state.draft.base.record, body: state.draft.base.body })}
      >
        Discard
      </Button>
      <Button
        className={change?.isHeld ? 'button danger' : 'button main'}
        isDisabled={isBusy || isTrying || !change || change.steps.length === 0 || state.stale !== undefined}
        onPress={() => void save(change?.isHeld === true)}
      >
        {change?.isHeld ? 'Write it with its errors' : 'Write it'}
      </Button>
    </section>
  )
}

function whyNotWritten(changed: readonly string[], problems: number, byHand: number): string {
  if (changed.length > 0) return `Changed by somebody else in the meantime: ${changed.join(', ')}`
  if (problems > 0) return `It would make ${plural(problems, 'new problem')}`
  return byHand > 0 ? 'It has to be written by hand: see the change' : 'There is nothing to write'
}
