import { Copy, PencilLine, Trash2 } from 'lucide-react'
import { lazy, Suspense, useEffect, useMemo, useState } from 'react'
import { Button } from 'react-aria-components/Button'
import { Tab, TabList, TabPanel, Tabs } from 'react-aria-components/Tabs'
import type { CollectionView, ModelView, RecordView } from 'zinc-pantry/inspect'
import { ChangeDetails } from '../change/change-details.tsx'
import { propose } from '../change/propose.ts'
import { BodyFrame } from '../entry/body-frame.tsx'
import { ComputedValues } from '../entry/computed-values.tsx'
import { Connections } from '../entry/connections.tsx'
import { History } from '../entry/history.tsx'
import { Languages } from '../entry/languages.tsx'
import { OpenInEditor } from '../entry/open-in-editor.tsx'
import { RemoveDialog } from '../entry/remove-dialog.tsx'
import { RenameDialog } from '../entry/rename-dialog.tsx'
import { SaveBar } from '../entry/save-bar.tsx'
import { SourceText } from '../entry/source-text.tsx'
import { StaleNotice } from '../entry/stale-notice.tsx'
import { useDraft } from '../entry/use-draft.ts'
import { useTrial } from '../entry/use-trial.ts'
import { FieldsForm } from '../form/fields-form.tsx'
import { FormProvider } from '../form/form-context.ts'
import { fieldsOfShape } from '../form/record.ts'
import { Link } from '../parts/link.tsx'
import { Notice, Refused, Waiting } from '../parts/notice.tsx'
import { addressOf, goTo, guardLeaving, useAddress } from '../site/address.ts'
import { call } from '../site/calls.ts'
import { collectionOf, useModel } from '../site/model.ts'
import { useNews } from '../site/news.ts'
import { useCall } from '../site/use-call.ts'

const MarkdownEditor = lazy(() => import('../text/markdown-editor.tsx'))

/** An entry: its form, its text, what it is connected with. */
export default function EntryPage() {
  const { values } = useAddress()
  const name = values.get('name') ?? ''
  const locale = values.get('locale') ?? undefined
  const collection = name.slice(0, name.indexOf('/'))
  const asked = { collection, id: name.slice(name.indexOf('/') + 1), ...(locale === undefined ? {} : { locale }) }
  const { answer, refused } = useCall('entry', asked)
  const model = useModel()
  const { status } = useNews()
  const own = collectionOf(model, collection)
  if (refused) return <Refused refused={refused} />
  if (!answer || !model || !own || !status) return <Waiting />
  return <Entry key={`${name} ${locale}`} view={answer} model={model} collection={own} site={status.name} />
}

interface EntryProps {
  readonly view: RecordView
  readonly model: ModelView
  readonly collection: CollectionView
  readonly site: string
}

function Entry({ view, model, collection, site }: EntryProps) {
  const { head, body, locked, problems } = view
  const state = useDraft(view, site)
  const { draft, isChanged } = state
  const { status } = useNews()
  const isReadOnly = locked !== undefined || status?.isReadOnly === true
  const request = {
    ...{ kind: 'write' as const, collection: head.collection, id: head.id, locale: head.locale, record: draft.record },
    ...(draft.body !== draft.base.body ? { body: draft.body } : {}),
  }
  const wanted = isChanged && !state.stale ? { request, digest: draft.base.digest } : undefined
  const trial = useTrial(wanted)
  const [asking, setAsking] = useState<'renaming' | 'removing'>()
  const [tab, setTab] = useState<string>('connections')
  useEffect(() => {
    guardLeaving(
      isChanged ? () => window.confirm('What you have typed is kept, but not written yet. Leave it?') : undefined,
    )
    return () => guardLeaving(undefined)
  }, [isChanged])
  useEffect(() => {
    if (isChanged) setTab((last) => (last === 'connections' ? 'change' : last))
    else setTab((last) => (last === 'change' ? 'connections' : last))
  }, [isChanged])
  const shown = isChanged ? (trial.change?.own ?? problems) : problems
  const folder = folderOf(view.file)
  const form = useMemo(() => ({ model, problems: shown, isReadOnly, folder }), [model, shown, isReadOnly, folder])
  const known = new Set(fieldsOfShape(collection.fields, draft.record).map(({ key }) => key))
  const takesRest = collection.fields.some((field) => field.takesRest)
  const elsewhere = shown.filter(({ path }) => path === undefined || !(takesRest || known.has(String(path[0]))))
  const complete = async (text: string, offset: number) => {
    const front = view.text.slice(0, view.text.length - (body?.text.length ?? 0))
    const answer = await call('completeBody', { file: view.file, text: front + text, offset: front.length + offset })
    if ('refused' in answer) return []
    return answer.map((one) => ({ ...one, from: one.from - front.length, to: one.to - front.length }))
  }
  const draftField = collection.draft
  const publish = (isDraft: boolean): void => {
    if (draftField === undefined) return
    const { [draftField]: _, ...others } = draft.record
    state.change({ record: isDraft ? { ...draft.record, [draftField]: true } : others })
  }
  return (
    <div className="entry">
      <div className="head">
        <h1>{head.label}</h1>
        <span className="quiet">{head.name}</span>
        {head.hidden ? <span className="tag">not to be seen: {head.hidden}</span> : null}
        {view.versions.length > 1 ? <Versions view={view} /> : null}
        {locked ? <span className="tag">{locked}</span> : null}
        {isReadOnly ? null : (
          <span className="end actions">
            {draftField === undefined ? null : (
              <Button className="button" onPress={() => publish(draft.record[draftField] !== true)}>
                {draft.record[draftField] === true ? 'Publish' : 'Make it a draft'}
              </Button>
            )}
            <Button className="button" onPress={() => goTo(addressOf('new', { name: head.collection, like: head.id }))}>
              <Copy size={13} aria-hidden /> Duplicate
            </Button>
            <Button className="button" onPress={() => setAsking('renaming')}>
              <PencilLine size={13} aria-hidden /> Rename
            </Button>
            <Button className="button danger" onPress={() => setAsking('removing')}>
              <Trash2 size={13} aria-hidden /> Remove
            </Button>
          </span>
        )}
      </div>
      <p className="quiet lead place">
        {view.file}:{view.line} {locked === undefined ? <OpenInEditor file={view.file} line={view.line} /> : null}
      </p>
      {state.stale ? <StaleNotice state={state} now={state.stale} /> : null}
      {state.isKept && !state.stale ? (
        <Notice>What you had typed before is still here; it is not written yet.</Notice>
      ) : null}
      {elsewhere.length > 0 ? (
        <Notice tone="error">
          <ul>
            {elsewhere.map(({ code, message, help, line }) => (
              <li key={`${code} ${message} ${line}`}>
                {message}{' '}
                <span className="quiet">
                  {help} (line {line})
                </span>
              </li>
            ))}
          </ul>
        </Notice>
      ) : null}
      <div className="entry-columns">
        <form className="form" onSubmit={(event) => event.preventDefault()} aria-label={head.name}>
          <FormProvider value={form}>
            <FieldsForm
              fields={collection.fields}
              record={draft.record}
              path={[]}
              onChange={(record) => state.change({ record })}
            />
            {collection.hasBody && draft.body !== undefined ? (
              <div className="control">
                <div className="label">
                  <span>Body</span> <span className="quiet">Escape, then Tab leaves it</span>
                </div>
                <Suspense fallback={<textarea readOnly value={draft.body} rows={12} />}>
                  <MarkdownEditor
                    label="Body"
                    text={draft.body}
                    onChange={(text) => state.change({ body: text })}
                    isReadOnly={isReadOnly}
                    complete={complete}
                  />
                </Suspense>
              </div>
            ) : null}
          </FormProvider>
          <ComputedValues fields={collection.fields} values={view.values} />
        </form>
        <aside aria-label="About it">
          <Tabs selectedKey={tab} onSelectionChange={(key) => setTab(String(key))} className="tabs">
            <TabList aria-label="About it">
              <Tab id="connections">Connections</Tab>
              {isChanged ? <Tab id="change">Change</Tab> : null}
              <Tab id="preview">Preview</Tab>
              <Tab id="source">Source</Tab>
              {view.versions.length > 1 ? <Tab id="languages">Languages</Tab> : null}
              <Tab id="history">History</Tab>
            </TabList>
            <TabPanel id="connections">
              <Connections view={view} />
            </TabPanel>
            {isChanged ? (
              <TabPanel id="change">
                {trial.refused ? <Refused refused={trial.refused} /> : null}
                {trial.change ? <ChangeDetails change={trial.change} /> : <p className="quiet">It is tried out…</p>}
              </TabPanel>
            ) : null}
            {view.versions.length > 1 ? (
              <TabPanel id="languages">
                <Languages view={view} collection={collection} />
              </TabPanel>
            ) : null}
            <TabPanel id="history">
              <History head={head} />
            </TabPanel>
            <TabPanel id="preview">
              <BodyFrame view={view} text={draft.body === draft.base.body ? undefined : draft.body} />
            </TabPanel>
            <TabPanel id="source">
              <SourceText text={view.text} firstLine={view.firstLine} problems={view.problems} />
            </TabPanel>
          </Tabs>
        </aside>
      </div>
      {isReadOnly || !isChanged ? null : <SaveBar state={state} trial={trial} wanted={wanted} />}
      {asking === 'renaming' ? (
        <RenameDialog
          head={head}
          onClose={() => setAsking(undefined)}
          onChoose={(request) => {
            setAsking(undefined)
            propose({
              title: `Rename ${head.name}`,
              request,
              onMade() {
                guardLeaving(undefined)
                const name = `${head.collection}/${request.name}`
                goTo(addressOf('entry', { name, locale: head.locale }), { isReplacing: true })
              },
            })
          }}
        />
      ) : null}
      {asking === 'removing' ? (
        <RemoveDialog
          view={view}
          onClose={() => setAsking(undefined)}
          onChoose={(request) => {
            setAsking(undefined)
            propose({
              title: `Remove ${head.name}`,
              request,
              onMade() {
                guardLeaving(undefined)
                goTo(addressOf('collection', { name: head.collection }), { isReplacing: true })
              },
            })
          }}
        />
      ) : null}
    </div>
  )
}

const folderOf = (file: string): string => file.split('/').slice(1, -1).join('/')

/** The languages of an entry. */
const Versions = ({ view: { head, versions } }: { readonly view: RecordView }) => (
  <nav aria-label="Languages" className="versions">
    {versions.map(({ name, locale }) => (
      <Link key={locale} view="entry" values={{ name, locale }} isCurrent={locale === head.locale} className="tag">
        {locale}
      </Link>
    ))}
  </nav>
)
