import { useState } from 'react'
import { Button } from 'react-aria-components/Button'
import { Tab, TabList, TabPanel, Tabs } from 'react-aria-components/Tabs'
import type { CallAnswer, ModelView, RowsQuestion } from 'zinc-pantry/inspect'
import { Cell } from '../collection/cell.tsx'
import { ConditionText } from '../collection/condition-input.tsx'
import { PlanTable } from '../collection/plan.tsx'
import { QuestionProblem } from '../collection/question-problem.tsx'
import { Link } from '../parts/link.tsx'
import { Refused, Waiting } from '../parts/notice.tsx'
import { plural, sizeWords } from '../parts/words.ts'
import { changeAddress, useAddress } from '../site/address.ts'
import { collectionOf, listColumns, useModel, usualColumns } from '../site/model.ts'
import { useCall } from '../site/use-call.ts'

const PARTS = ['where', 'search', 'sort', 'fields', 'facets', 'limit'] as const
type Part = (typeof PARTS)[number]

/** A console for queries: the answer as a table and as JSON, how it was found, and the same question as code. */
export default function QuestionPage() {
  const model = useModel()
  return model ? <Console model={model} /> : <Waiting />
}

function Console({ model }: { readonly model: ModelView }) {
  const { values } = useAddress()
  const name = values.get('collection') ?? model.collections[0]?.name ?? ''
  const collection = collectionOf(model, name)
  const [typed, setTyped] = useState<Readonly<Record<Part, string>>>(
    () => Object.fromEntries(PARTS.map((part) => [part, values.get(part) ?? ''])) as Record<Part, string>,
  )
  const ask = (): void => changeAddress({ collection: name, ...typed, asked: 'yes' }, { isReplacing: false })
  const field = (part: Part, label: string, placeholder: string) => (
    <label className="control">
      <span className="label">{label}</span>
      <input
        value={typed[part]}
        placeholder={placeholder}
        spellCheck={false}
        list={part === 'limit' || part === 'search' ? undefined : 'field-names'}
        onChange={(event) => setTyped({ ...typed, [part]: event.target.value })}
      />
    </label>
  )
  const question = values.has('asked') ? questionOf(values, name) : undefined
  return (
    <>
      <div className="head">
        <h1>Question</h1>
      </div>
      <form
        className="question"
        onSubmit={(event) => {
          event.preventDefault()
          ask()
        }}
      >
        <label className="control">
          <span className="label">Collection</span>
          <select
            value={name}
            onChange={(event) => changeAddress({ collection: event.target.value, asked: undefined })}
          >
            {model.collections.map((one) => (
              <option key={one.name}>{one.name}</option>
            ))}
          </select>
        </label>
        <div className="control wide">
          <span className="label" aria-hidden>
            Condition
          </span>
          <ConditionText collection={name} text={typed.where} onChange={(where) => setTyped({ ...typed, where })} />
        </div>
        {field('fields', 'Fields', collection ? usualColumns(collection).join(',') : '')}
        {field('sort', 'Order', '-beds,name')}
        {field('facets', 'Counted', 'region.name')}
        {collection?.isSearched ? field('search', 'Words', '') : null}
        {field('limit', 'At most', '100')}
        <datalist id="field-names">
          {collection ? listColumns(model, collection).map(({ path }) => <option key={path} value={path} />) : null}
        </datalist>
        <Button type="submit" className="button main">
          Ask
        </Button>
      </form>
      {question ? (
        <Answer question={question} />
      ) : (
        <p className="quiet">Every part but the collection may be left out.</p>
      )}
    </>
  )
}

function questionOf(values: URLSearchParams, collection: string): RowsQuestion & { readonly facets?: string } {
  const given = Object.fromEntries(
    PARTS.flatMap((part) => {
      const text = values.get(part) ?? ''
      return text === '' || part === 'limit' ? [] : [[part, text]]
    }),
  )
  const limit = Number(values.get('limit') ?? '') || 100
  return { collection, ...given, limit }
}

function Answer({ question }: { readonly question: RowsQuestion & { readonly facets?: string } }) {
  const { facets, ...asked } = question
  const { answer: rows, refused } = useCall('rows', asked)
  const { answer: parts } = useCall('answer', question)
  const { answer: code } = useCall('code', question)
  if (refused) return <Refused refused={refused} />
  if (!rows) return <Waiting />
  if ('problem' in rows) return <QuestionProblem problem={rows.problem} />
  const text = JSON.stringify(
    rows.rows.map((row) => Object.fromEntries(rows.columns.map(({ name }, at) => [name, row[at]]))),
    null,
    2,
  )
  return (
    <>
      <p className="quiet">
        {plural(rows.total, 'entry', 'entries')}
        {rows.rows.length < rows.total ? `, the first ${rows.rows.length} of them` : ''}, {sizeWords(text.length)} as
        JSON, {rows.milliseconds.toFixed(1)} ms
      </p>
      {parts && 'problem' in parts ? <QuestionProblem problem={parts.problem} /> : null}
      <Tabs className="tabs">
        <TabList aria-label="The answer">
          <Tab id="table">Table</Tab>
          <Tab id="json">JSON</Tab>
          <Tab id="counts" isDisabled={facets === undefined}>
            Counts
          </Tab>
          <Tab id="plan">Plan</Tab>
          <Tab id="code">As code</Tab>
        </TabList>
        <TabPanel id="table">
          <AnswerTable answer={rows} collection={question.collection} />
        </TabPanel>
        <TabPanel id="json">
          {/* biome-ignore lint/a11y/noNoninteractiveTabindex: what scrolls is reached by keyboard. */}
          <pre className="excerpt" tabIndex={0}>
            {text}
          </pre>
        </TabPanel>
        <TabPanel id="counts">{parts && 'facets' in parts ? <Counts facets={parts.facets} /> : null}</TabPanel>
        <TabPanel id="plan">
          {parts && 'plan' in parts ? <PlanTable plan={parts.plan} milliseconds={parts.milliseconds} /> : null}
        </TabPanel>
        <TabPanel id="code">
          {code && 'typescript' in code ? (
            <>
              <Code title="TypeScript" text={code.typescript} />
              <Code title="Command" text={code.command} />
            </>
          ) : null}
        </TabPanel>
      </Tabs>
    </>
  )
}

type Rows = Extract<CallAnswer<'rows'>, { readonly rows: unknown }>
type Facets = Extract<CallAnswer<'answer'>, { readonly facets: unknown }>['facets']

function AnswerTable({
  answer: { columns, rows },
  collection,
}: {
  readonly answer: Rows
  readonly collection: string
}) {
  const idAt = columns.findIndex(({ name }) => name === 'id')
  return (
    <div className="scrolled">
      <table className="plain">
        <thead>
          <tr>
            {columns.map(({ name }) => (
              <th key={name} scope="col">
                {name}
              </th>
            ))}
          </tr>
        </thead>
        <tbody>
          {rows.map((row, at) => (
            // biome-ignore lint/suspicious/noArrayIndexKey: rows have no other name where no id is asked for.
            <tr key={at}>
              {columns.map(({ name }, position) => (
                <td key={name}>
                  {position === idAt ? (
                    <Link view="entry" values={{ name: `${collection}/${row[position]}` }}>
                      {String(row[position])}
                    </Link>
                  ) : (
                    <Cell value={row[position]} field={undefined} />
                  )}
                </td>
              ))}
            </tr>
          ))}
        </tbody>
      </table>
    </div>
  )
}

const Counts = ({ facets }: { readonly facets: Facets }) => (
  <div className="columns">
    {facets.map(({ name, counts }) => (
      <section key={name}>
        <h2 className="minor">{name}</h2>
        <ul className="rows">
          {counts.map(({ value, count, label }) => (
            <li key={String(value)}>
              <span>{label ?? String(value)}</span>
              <span className="end number">{count.toLocaleString('en-GB')}</span>
            </li>
          ))}
        </ul>
      </section>
    ))}
  </div>
)

function Code({ title, text }: { readonly title: string; readonly text: string }) {
  const [isCopied, setCopied] = useState(false)
  return (
    <figure className="diff">
      <figcaption>
        {title}{' '}
        <Button className="plain" onPress={() => void navigator.clipboard.writeText(text).then(() => setCopied(true))}>
          {isCopied ? 'Copied' : 'Copy'}
        </Button>
      </figcaption>
      <pre className="copied-code">{text}</pre>
    </figure>
  )
}
