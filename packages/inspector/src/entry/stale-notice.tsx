import { Button } from 'react-aria-components/Button'
import type { RecordView } from 'zinc-pantry/inspect'
import { Notice } from '../parts/notice.tsx'
import { mergeDraft } from './merge-draft.ts'
import type { DraftState } from './use-draft.ts'

/** Shows what somebody else has written meanwhile beside what was typed here. */
export function StaleNotice({ state, now }: { readonly state: DraftState; readonly now: RecordView }) {
  const { typed, conflicts } = mergeDraft(state.draft, now)
  return (
    <Notice tone="warning">
      <strong>The file was changed while you were typing.</strong>{' '}
      {conflicts.length === 0 ? 'None of its changes is about what you have changed.' : 'Both have changed this:'}
      {conflicts.length > 0 ? (
        <div className="scrolled">
          <table className="plain">
            <thead>
              <tr>
                <th scope="col">Field</th>
                <th scope="col">In the file by now</th>
                <th scope="col">What you have typed</th>
              </tr>
            </thead>
            <tbody>
              {conflicts.map(({ key, theirs, yours }) => (
                <tr key={key}>
                  <th scope="row">{key}</th>
                  <td>
                    <pre>{write(theirs)}</pre>
                  </td>
                  <td>
                    <pre>{write(yours)}</pre>
                  </td>
                </tr>
              ))}
            </tbody>
          </table>
        </div>
      ) : null}
      <div className="actions">
        <Button className="button" onPress={() => state.restart(now)}>
          Take the file as it is
        </Button>
        <Button className="button main" onPress={() => state.restart(now, typed)}>
          {conflicts.length === 0 ? 'Bring both together' : 'Go on with mine, and with the rest of the file'}
        </Button>
      </div>
    </Notice>
  )
}

const write = (value: unknown): string =>
  value === undefined ? '–' : typeof value === 'string' ? value : JSON.stringify(value, null, 2)
