import { Wrench } from 'lucide-react'
import { useState } from 'react'
import { Button } from 'react-aria-components/Button'
import type { ProblemView } from 'zinc-pantry/inspect'
import { propose } from '../change/propose.ts'
import { Excerpt } from '../parts/excerpt.tsx'
import { EntryLink } from '../parts/link.tsx'
import { Notice, Refused, Waiting } from '../parts/notice.tsx'
import { plural } from '../parts/words.ts'
import { changeAddress, useAddress } from '../site/address.ts'
import { useCall } from '../site/use-call.ts'

const GROUPS = { file: 'File', code: 'Kind', collection: 'Collection' } as const
type Group = keyof typeof GROUPS

/** All problems: grouped, filtered, explained and mended. */
export default function ProblemsPage() {
  const { values } = useAddress()
  const { answer, refused } = useCall('problems', {})
  if (refused) return <Refused refused={refused} />
  if (!answer) return <Waiting />
  const group = (values.get('group') ?? 'file') as Group
  const shown = answer.filter(
    ({ severity, collection = '', code }) =>
      isWanted(values.get('severity'), severity) &&
      isWanted(values.get('collection'), collection) &&
      isWanted(values.get('code'), code),
  )
  const mended = shown.filter(({ edit }) => edit)
  const mend = (problems: readonly ProblemView[]): void =>
    propose({
      title: plural(problems.length, 'mend'),
      request: { kind: 'mend', places: problems.map(({ file, span }) => ({ file, span })) },
    })
  const groups = Map.groupBy(shown, (one) => String(one[group] ?? ''))
  return (
    <>
      <div className="head">
        <h1>Problems</h1>
        {mended.length > 0 ? (
          <Button className="button" onPress={() => mend(mended)}>
            <Wrench size={14} aria-hidden /> Mend {mended.length} that mend themselves
          </Button>
        ) : null}
      </div>
      <div className="filters">
        <Choice name="severity" label="Severity" options={listOf(answer, ({ severity }) => severity)} />
        <Choice name="collection" label="Collection" options={listOf(answer, ({ collection }) => collection)} />
        <Choice name="code" label="Kind" options={listOf(answer, ({ code }) => code)} />
        <Choice name="group" label="Group by" options={Object.keys(GROUPS)} none={null} />
        <span className="quiet">{plural(shown.length, 'problem')}</span>
      </div>
      {answer.length === 0 ? <Notice tone="good">There is no problem.</Notice> : null}
      {[...groups].map(([name, own]) => (
        <section key={name} className="problems">
          <h2>
            {name || 'Elsewhere'} <span className="count">{own.length}</span>
          </h2>
          <ul>
            {own.map((one) => (
              <li key={`${one.file} ${one.span.join()} ${one.code} ${one.message}`}>
                <Problem problem={one} onMend={() => mend([one])} />
              </li>
            ))}
          </ul>
        </section>
      ))}
    </>
  )
}

const isWanted = (wanted: string | null, value: string): boolean => wanted === null || wanted === value

const listOf = (problems: readonly ProblemView[], of: (one: ProblemView) => string | undefined): readonly string[] =>
  [...new Set(problems.map((one) => of(one) ?? ''))].filter((one) => one !== '').sort()

/** A choice that stands in the address. */
function Choice({
  name,
  label,
  options,
  none = 'all',
}: {
  readonly name: string
  readonly label: string
  readonly options: readonly string[]
  readonly none?: string | null
}) {
  const { values } = useAddress()
  return (
    <label className="field-line">
      <span>{label}</span>
      <select value={values.get(name) ?? ''} onChange={(event) => changeAddress({ [name]: event.target.value })}>
        {none === null ? null : <option value="">{none}</option>}
        {options.map((one, at) => (
          <option key={one} value={none === null && at === 0 ? '' : one}>
            {one}
          </option>
        ))}
      </select>
    </label>
  )
}

/** A problem with the lines around it. */
function Problem({ problem, onMend }: { readonly problem: ProblemView; readonly onMend?: () => void }) {
  const { severity, message, help, code, file, line, column, entry } = problem
  const [isExplained, setExplained] = useState(false)
  return (
    <article className={`problem ${severity}`}>
      <header>
        <span className={`mark ${severity}`}>{severity}</span>
        <strong>{message}</strong>
        {entry ? <EntryLink entry={entry} /> : null}
        <span className="quiet place">
          {file}:{line}:{column}
        </span>
      </header>
      <Excerpt problem={problem} />
      {help ? <p>{help}</p> : null}
      <div className="actions">
        {problem.edit && onMend ? (
          <Button className="button small" onPress={onMend}>
            <Wrench size={13} aria-hidden /> Mend it
          </Button>
        ) : null}
        <Button className="plain" aria-expanded={isExplained} onPress={() => setExplained(!isExplained)}>
          What is {code}?
        </Button>
      </div>
      {isExplained ? <Explanation code={code} /> : null}
    </article>
  )
}

function Explanation({ code }: { readonly code: string }) {
  const { answer, refused } = useCall('explain', { code })
  if (refused) return <Refused refused={refused} />
  if (!answer) return null
  return (
    <div className="explanation">
      <p>{answer.meaning}</p>
      {answer.wrong ? (
        <div className="columns">
          <figure>
            <figcaption>Wrong</figcaption>
            <pre>{answer.wrong}</pre>
          </figure>
          <figure>
            <figcaption>Right</figcaption>
            <pre>{answer.right}</pre>
          </figure>
        </div>
      ) : null}
    </div>
  )
}
