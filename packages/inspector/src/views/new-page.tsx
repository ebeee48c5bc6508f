import { lazy, Suspense, useEffect, useMemo, useState } from 'react'
import { Button } from 'react-aria-components/Button'
import type { CallRefusal, CollectionView, ModelView, RecordView } from 'zinc-pantry/inspect'
import { ChangeDetails } from '../change/change-details.tsx'
import { useTrial } from '../entry/use-trial.ts'
import { FieldsForm } from '../form/fields-form.tsx'
import { FormProvider } from '../form/form-context.ts'
import type { Group } from '../form/record.ts'
import { Refused, Waiting } from '../parts/notice.tsx'
import { plural } from '../parts/words.ts'
import { addressOf, goTo, guardLeaving, useAddress } from '../site/address.ts'
import { call, isRefusal } from '../site/calls.ts'
import { collectionOf, labelFieldOf, useModel } from '../site/model.ts'
import { useCall, wordsOf } from '../site/use-call.ts'

const MarkdownEditor = lazy(() => import('../text/markdown-editor.tsx'))

/** A new entry of a collection, from nothing or from another one. */
export default function NewPage() {
  const { values } = useAddress()
  const name = values.get('name') ?? ''
  const like = values.get('like') ?? undefined
  const model = useModel()
  const collection = collectionOf(model, name)
  const { answer, refused } = useCall('entry', like === undefined ? undefined : { collection: name, id: like })
  if (refused) return <Refused refused={refused} />
  if (!model || (like !== undefined && !answer)) return <Waiting />
  if (!collection) return <Refused refused={{ refused: `There is no collection "${name}"` }} />
  return <NewEntry key={`${name} ${like}`} model={model} collection={collection} like={answer} />
}

function NewEntry({
  model,
  collection,
  like,
}: {
  readonly model: ModelView
  readonly collection: CollectionView
  readonly like: RecordView | undefined
}) {
  const { name } = collection
  const label = labelFieldOf(collection)
  const key = `pantry-new ${name}`
  const [kept] = useState(() => (like ? undefined : readKept(key)))
  const [record, setRecord] = useState<Group>(kept?.record ?? startOf(collection, like))
  const [body, setBody] = useState(kept?.body ?? like?.body?.text ?? (collection.hasBody ? '\n' : ''))
  const [id, setId] = useState(kept?.id ?? '')
  const [locale, setLocale] = useState(collection.locales[0])
  const [refused, setRefused] = useState<CallRefusal>()
  const [isBusy, setBusy] = useState(false)
  const called = id !== '' ? id : label === undefined ? '' : String(record[label] ?? '')
  const isTouched = called !== ''
  const request = {
    ...{ kind: 'new' as const, collection: name, name: called, values: [], record, locale },
    ...(collection.hasBody ? { body } : {}),
  }
  const trial = useTrial(isTouched ? { request } : undefined)
  useEffect(() => {
    if (isTouched) localStorage.setItem(key, JSON.stringify({ record, body, id }))
    guardLeaving(
      isTouched ? () => window.confirm('What you have typed is kept, but not written yet. Leave it?') : undefined,
    )
    return () => guardLeaving(undefined)
  }, [key, record, body, id, isTouched])
  const problems = trial.change?.own ?? []
  const form = useMemo(() => ({ model, problems, isReadOnly: false, folder: '' }), [model, problems])
  const change = trial.change
  const file = change?.files[0]?.file
  const errors = (change?.problems.length ?? 0) + (change?.unfilled.length ?? 0)
  const make = async (): Promise<void> => {
    setBusy(true)
    setRefused(undefined)
    try {
      const answer = await call('change', { request, dryRun: false, anyway: errors > 0 })
      if (isRefusal(answer)) setRefused(answer)
      else if (!('stale' in answer) && answer.isWritten) {
        localStorage.removeItem(key)
        guardLeaving(undefined)
        const made = /^(\S+) is new$/.exec(answer.words)?.[1] ?? name
        goTo(made.includes('/') ? addressOf('entry', { name: made, locale }) : addressOf('collection', { name }))
      } else setRefused({ refused: 'It was not written: see the change' })
    } catch (error) {
      setRefused({ refused: wordsOf(error) })
    }
    setBusy(false)
  }
  const complete = async (text: string, offset: number) => {
    if (file === undefined) return []
    const answer = await call('completeBody', { file, text: FRONT + text, offset: FRONT.length + offset })
    if (isRefusal(answer)) return []
    return answer.map((one) => ({ ...one, from: one.from - FRONT.length, to: one.to - FRONT.length }))
  }
  return (
    <div className="entry">
      <div className="head">
        <h1>
          New in {name} {like ? <span className="quiet">like {like.head.label}</span> : null}
        </h1>
      </div>
      {collection.description ? <p className="quiet lead">{collection.description}</p> : null}
      <div className="entry-columns">
        <form className="form" onSubmit={(event) => event.preventDefault()} aria-label={`New in ${name}`}>
          <FormProvider value={form}>
            <div className="control">
              <div className="label">
                <label htmlFor="new-id">Its id</label> <span className="quiet">by itself from what it is called</span>
              </div>
              <input
                id="new-id"
                value={id}
                placeholder={file === undefined ? '' : file.slice(file.lastIndexOf('/') + 1).replace(/\.\w+$/, '')}
                onChange={(event) => setId(event.target.value)}
              />
            </div>
            {collection.locales.length > 1 ? (
              <div className="control">
                <div className="label">
                  <label htmlFor="new-locale">Language</label>
                </div>
                <select id="new-locale" value={locale} onChange={(event) => setLocale(event.target.value)}>
                  {collection.locales.map((one) => (
                    <option key={one}>{one}</option>
                  ))}
                </select>
              </div>
            ) : null}
            <FieldsForm fields={collection.fields} record={record} path={[]} onChange={setRecord} />
            {collection.hasBody ? (
              <div className="control">
                <div className="label">
                  <span>Body</span> <span className="quiet">Escape, then Tab leaves it</span>
                </div>
                <Suspense fallback={<textarea readOnly value={body} rows={12} />}>
                  <MarkdownEditor label="Body" text={body} onChange={setBody} complete={complete} />
                </Suspense>
              </div>
            ) : null}
          </FormProvider>
        </form>
        <aside aria-label="What would be written">
          {trial.refused ? <Refused refused={trial.refused} /> : null}
          {change ? <ChangeDetails change={change} /> : <p className="quiet">Say what it is called.</p>}
        </aside>
      </div>
      <section className="save-bar" aria-label="What is not written yet">
        <span role="status">
          {refused ? (
            <strong className="error">{refused.refused}</strong>
          ) : !isTouched ? (
            'Say what it is called'
          ) : trial.isTrying ? (
            'It is tried out…'
          ) : errors > 0 ? (
            <span className="warning">{plural(errors, 'value')} still to be filled in or mended</span>
          ) : file ? (
            `It becomes ${file}`
          ) : (
            ''
          )}
        </span>
        <Button
          className="button"
          onPress={() => {
            localStorage.removeItem(key)
            guardLeaving(undefined)
            goTo(addressOf('collection', { name }))
          }}
        >
          Discard
        </Button>
        <Button
          className={errors > 0 ? 'button' : 'button main'}
          isDisabled={isBusy || trial.isTrying || !change || change.steps.length === 0}
          onPress={() => void make()}
        >
          {errors > 0 ? 'Write it as it is' : 'Write it'}
        </Button>
      </section>
    </div>
  )
}

const FRONT = '---\n---\n'

/** What a new entry begins with: the values of another but for its name, or nothing. */
function startOf(collection: CollectionView, like: RecordView | undefined): Group {
  if (!like) return {}
  const label = labelFieldOf(collection)
  const leftOut = new Set([...like.idKeys, 'id', ...(label === undefined ? [] : [label])])
  return Object.fromEntries(Object.entries(like.written).filter(([key]) => !leftOut.has(key)))
}

function readKept(key: string): { readonly record: Group; readonly body: string; readonly id: string } | undefined {
  try {
    return JSON.parse(localStorage.getItem(key) ?? 'null') ?? undefined
  } catch {
    return undefined
  }
}
