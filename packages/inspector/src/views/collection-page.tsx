import { Download, Plus } from 'lucide-react'
import { useState } from 'react'
import { Button } from 'react-aria-components/Button'
import { Menu, MenuItem, MenuTrigger } from 'react-aria-components/Menu'
import { Popover } from 'react-aria-components/Popover'
import type { CollectionView, ModelView, RowsQuestion } from 'zinc-pantry/inspect'
import { BulkBar } from '../collection/bulk-bar.tsx'
import { Calendar } from '../collection/calendar.tsx'
import { ColumnChooser } from '../collection/column-chooser.tsx'
import { ConditionInput } from '../collection/condition-input.tsx'
import { exportRows } from '../collection/export-rows.ts'
import { filterNames, writeFilters } from '../collection/filter-condition.ts'
import { Filters } from '../collection/filters.tsx'
import { OwnOrder } from '../collection/own-order.tsx'
import { PlaceMap } from '../collection/place-map.tsx'
import { Plan } from '../collection/plan.tsx'
import { QuestionProblem } from '../collection/question-problem.tsx'
import { fieldsOf, RowsTable } from '../collection/rows-table.tsx'
import { useRows } from '../collection/use-rows.ts'
import { Link } from '../parts/link.tsx'
import { Notice, Refused, Waiting } from '../parts/notice.tsx'
import { plural } from '../parts/words.ts'
import { changeAddress, useAddress } from '../site/address.ts'
import {
  collectionOf,
  dayFieldOf,
  labelFieldOf,
  listColumns,
  type NamedField,
  useModel,
  usualColumns,
} from '../site/model.ts'
import { useNews } from '../site/news.ts'
import { useTyped } from '../site/use-typed.ts'

/** The entries of a collection. */
export default function CollectionPage() {
  const { values } = useAddress()
  const model = useModel()
  const name = values.get('name') ?? ''
  const collection = collectionOf(model, name)
  if (!model) return <Waiting />
  if (!collection) return <Refused refused={{ refused: `There is no collection "${name}"` }} />
  return <Collection key={name} model={model} collection={collection} />
}

/** Typing comes to rest before it is asked. */
const TYPING_MS = 150

function Collection({ model, collection }: { readonly model: ModelView; readonly collection: CollectionView }) {
  const { values } = useAddress()
  const { name } = collection
  const fields = listColumns(model, collection)
  const chosen = values.get('columns')?.split(',') ?? usualColumns(collection)
  const columns = chosen.flatMap((path) => fields.find((one) => one.path === path) ?? headColumn(path))
  const locale = values.get('locale') ?? undefined
  const [sort, search] = [values.get('sort') ?? '', values.get('search') ?? '']
  const where = writeFilters(values, fields)
  const asked: RowsQuestion = {
    collection: name,
    ...(where === '' ? {} : { where }),
    ...(sort === '' ? {} : { sort }),
    ...(search === '' ? {} : { search }),
    ...(locale === undefined ? {} : { locale }),
  }
  const question: RowsQuestion = { ...asked, fields: fieldsOf(columns) }
  const { store } = useRows(question)
  const [selected, setSelected] = useState<ReadonlySet<string>>(new Set())
  const [isFiltering, setFiltering] = useState(() => window.innerWidth >= 1100)
  const [isPlanned, setPlanned] = useState(false)
  const { status } = useNews()
  const canWrite = status !== undefined && !status.isReadOnly && !collection.isForeign
  const select = (id: string, isSelected: boolean): void => {
    const next = new Set(selected)
    if (isSelected) next.add(id)
    else next.delete(id)
    setSelected(next)
  }
  const shape = values.get('as') ?? ''
  const label = labelFieldOf(collection) ?? 'id'
  const day = dayFieldOf(collection)
  const { position } = collection
  const isFiltered = filterNames(values).length > 0 || values.has('where') || search !== ''
  const clear = (): void =>
    changeAddress(Object.fromEntries([...filterNames(values), 'where', 'search'].map((one) => [one, undefined])))
  const problem = store?.state.problem
  return (
    <div className="collection">
      <div className="head">
        <h1>
          {name}{' '}
          <span className="quiet">
            {store?.state.total === undefined ? '' : plural(store.state.total, 'entry', 'entries')}
          </span>
        </h1>
        <Link view="model" values={{ name }} className="quiet">
          its model
        </Link>
        {canWrite && !collection.isSingle ? (
          <Link view="new" values={{ name }} className="button main">
            <Plus size={14} aria-hidden /> New
          </Link>
        ) : null}
      </div>
      {collection.description ? <p className="quiet lead">{collection.description}</p> : null}
      <div className="tools">
        {collection.isSearched ? <Search /> : null}
        <ConditionInput collection={name} />
        {collection.locales.length > 1 ? (
          <label className="field-line">
            <span>Language</span>
            <select
              value={locale ?? collection.locales[0]}
              onChange={(event) => changeAddress({ locale: event.target.value })}
            >
              {collection.locales.map((one) => (
                <option key={one}>{one}</option>
              ))}
            </select>
          </label>
        ) : null}
        <Button className="button" aria-pressed={isFiltering} onPress={() => setFiltering(!isFiltering)}>
          Filters
        </Button>
        <ColumnChooser fields={fields} chosen={chosen} />
        <MenuTrigger>
          <Button className="button">
            <Download size={14} aria-hidden /> Export
          </Button>
          <Popover className="popover">
            <Menu className="menu" onAction={(key) => void exportRows(question, key as 'csv' | 'json')}>
              <MenuItem id="csv">As CSV</MenuItem>
              <MenuItem id="json">As JSON</MenuItem>
            </Menu>
          </Popover>
        </MenuTrigger>
        {day || position || collection.manualOrder ? (
          <label className="field-line">
            <span>As</span>
            <select value={shape} onChange={(event) => changeAddress({ as: event.target.value })}>
              <option value="">a table</option>
              {day ? <option value="calendar">a calendar</option> : null}
              {position ? <option value="map">a map</option> : null}
              {collection.manualOrder ? <option value="order">its own order</option> : null}
            </select>
          </label>
        ) : null}
        <Button className="plain" aria-expanded={isPlanned} onPress={() => setPlanned(!isPlanned)}>
          Plan
        </Button>
        {isFiltered ? (
          <Button className="plain" onPress={clear}>
            Clear all
          </Button>
        ) : null}
      </div>
      {isPlanned ? <Plan question={question} /> : null}
      {selected.size > 0 ? (
        <BulkBar collection={collection} ids={selected} canWrite={canWrite} onDone={() => setSelected(new Set())} />
      ) : null}
      {problem ? <QuestionProblem problem={problem} /> : null}
      <div className={isFiltering ? 'with-filters' : ''}>
        {isFiltering ? <Filters question={asked} fields={listColumns(model, collection, 0)} /> : null}
        {store === undefined ? (
          <Waiting />
        ) : store.state.total === 0 ? (
          <Notice>{isFiltered ? 'Nothing matches.' : 'There are no entries yet.'}</Notice>
        ) : shape === 'calendar' && day ? (
          <Calendar question={asked} field={day} label={label} />
        ) : shape === 'map' && position ? (
          <PlaceMap question={asked} path={position} label={label} />
        ) : shape === 'order' && collection.manualOrder ? (
          <OwnOrder {...{ collection, locale, label, canWrite }} />
        ) : (
          <RowsTable
            {...{ name, locale, store, columns, sort, selected }}
            onSort={(next) => changeAddress({ sort: next })}
            onSelect={select}
          />
        )}
      </div>
    </div>
  )
}

/** A column of what every entry has. */
function headColumn(path: string): NamedField | readonly never[] {
  if (path !== 'id' && path !== 'slug') return []
  const field = { name: path, key: path, kind: 'text', need: 'computed', expected: 'text' } as const
  return { path, field: { ...field, isPrivate: false, isDeprecated: false, options: {} } }
}

function Search() {
  const [text, setText] = useTyped('search', TYPING_MS)
  return (
    <label className="field-line">
      <span>Words</span>
      <input type="search" value={text} onChange={(event) => setText(event.target.value)} />
    </label>
  )
}
