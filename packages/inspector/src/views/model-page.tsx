import { Fragment, useState } from 'react'
import { Button } from 'react-aria-components/Button'
import type { CollectionView, FieldModel, ModelView } from 'zinc-pantry/inspect'
import { Diagram } from '../model/diagram.tsx'
import { PartDetails } from '../model/part-details.tsx'
import { Link } from '../parts/link.tsx'
import { Refused, Waiting } from '../parts/notice.tsx'
import { useAddress } from '../site/address.ts'
import { useModel } from '../site/model.ts'

/** The model: collections and references as a diagram, and each collection and block with its fields. */
export default function ModelPage() {
  const { values } = useAddress()
  const model = useModel()
  const [name, block] = [values.get('name'), values.get('block')]
  if (!model) return <Waiting />
  if (name !== null) {
    const collection = model.collections.find((one) => one.name === name)
    if (!collection) return <Refused refused={{ refused: `There is no collection "${name}"` }} />
    return <CollectionModel key={name} collection={collection} />
  }
  if (block !== null) {
    const found = model.blocks.find((one) => one.name === block)
    if (!found) return <Refused refused={{ refused: `There is no block "${block}"` }} />
    return <BlockModel key={block} name={block} fields={found.fields} />
  }
  return <Whole model={model} />
}

function Whole({ model }: { readonly model: ModelView }) {
  return (
    <>
      <div className="head">
        <h1>Model</h1>
        <span className="quiet">
          {model.collections.length} collections, {model.blocks.length} blocks
        </span>
      </div>
      <Diagram />
      <div className="columns">
        <section>
          <h2>Collections</h2>
          <ul className="rows">
            {model.collections.map(({ name, description, fields }) => (
              <li key={name}>
                <Link view="model" values={{ name }}>
                  {name}
                </Link>
                <span className="quiet">{description}</span>
                <span className="quiet end">{fields.length} fields</span>
              </li>
            ))}
          </ul>
        </section>
        {model.blocks.length === 0 ? null : (
          <section>
            <h2>Blocks</h2>
            <ul className="rows">
              {model.blocks.map(({ name, fields }) => (
                <li key={name}>
                  <Link view="model" values={{ block: name }}>
                    {name}
                  </Link>
                  <span className="quiet">{fields.map((field) => field.name).join(', ')}</span>
                </li>
              ))}
            </ul>
          </section>
        )}
      </div>
    </>
  )
}

function CollectionModel({ collection }: { readonly collection: CollectionView }) {
  const { name, description, files, typeName, order, unique, ledFrom, isForeign, fields } = collection
  return (
    <>
      <div className="head">
        <h1>{name}</h1>
        <Link view="collection" values={{ name }} className="quiet">
          its entries
        </Link>
        <Link view="model" className="quiet">
          the whole model
        </Link>
      </div>
      {description ? <p className="lead">{description}</p> : null}
      <dl className="facts">
        <Fact name="Files" value={isForeign ? 'from elsewhere' : files.join(', ')} />
        <Fact name="Type" value={typeName} />
        <Fact name="Order" value={order.join(', ')} />
        <Fact name="Unique together" value={unique.map((one) => one.join(' + ')).join(', ')} />
        <Fact name="Led to from" value={ledFrom.join(', ')} />
      </dl>
      <FieldTable owner={name} fields={fields} />
    </>
  )
}

const Fact = ({ name, value }: { readonly name: string; readonly value: string }) =>
  value === '' ? null : (
    <div>
      <dt>{name}</dt>
      <dd>{value}</dd>
    </div>
  )

function BlockModel({ name, fields }: { readonly name: string; readonly fields: readonly FieldModel[] }) {
  return (
    <>
      <div className="head">
        <h1>{name}</h1>
        <span className="quiet">a block</span>
        <Link view="model" className="quiet">
          the whole model
        </Link>
      </div>
      <FieldTable owner={name} fields={fields} />
      <h2>Where it is used</h2>
      <PartDetails target={name} />
    </>
  )
}

function FieldTable({ owner, fields }: { readonly owner: string; readonly fields: readonly FieldModel[] }) {
  const [open, setOpen] = useState<string>()
  return (
    <div className="scrolled">
      <table className="plain model-table">
        <thead>
          <tr>
            <th scope="col">Field</th>
            <th scope="col">Value</th>
            <th scope="col">Need</th>
            <th scope="col">Limits</th>
            <th scope="col">Help</th>
          </tr>
        </thead>
        <tbody>
          {flatten(fields).map(({ field, path, depth }) => (
            <Fragment key={path}>
              <tr>
                <th scope="row" style={{ paddingInlineStart: 12 + depth * 18 }}>
                  <Button
                    className="plain"
                    aria-expanded={open === path}
                    onPress={() => setOpen(open === path ? undefined : path)}
                  >
                    {field.name}
                  </Button>{' '}
                  {field.isPrivate ? <span className="tag private">private</span> : null}
                  {field.isDeprecated ? <span className="tag">not for new content</span> : null}
                </th>
                <td>
                  <Value field={field} />
                </td>
                <td className="nowrap">
                  {field.need}
                  {field.default === undefined ? null : <span className="quiet"> {JSON.stringify(field.default)}</span>}
                </td>
                <td className="quiet">{limitsOf(field)}</td>
                <td className="quiet">
                  {[field.label, field.help].filter(Boolean).join(': ')}
                  {field.examples ? (
                    <div>such as {field.examples.map((one) => JSON.stringify(one)).join(', ')}</div>
                  ) : null}
                </td>
              </tr>
              {open === path ? (
                <tr>
                  <td colSpan={5}>
                    <PartDetails target={`${owner}.${path}`} field={field} />
                  </td>
                </tr>
              ) : null}
            </Fragment>
          ))}
        </tbody>
      </table>
    </div>
  )
}

/** What a field holds, with ways to the collections and blocks that it names. */
function Value({ field }: { readonly field: FieldModel }) {
  const { kind, item, leadsTo, blocks, words, variants, alternatives } = field
  if (kind === 'list' && item)
    return (
      <>
        list of <Value field={item} />
      </>
    )
  const names = leadsTo?.targets ?? blocks?.names
  return (
    <>
      {kind}
      {names ? (
        <>
          {' '}
          {names.map((one, at) => (
            <Fragment key={one}>
              {at > 0 ? ', ' : ''}
              <Link view="model" values={leadsTo ? { name: one } : { block: one }}>
                {one}
              </Link>
            </Fragment>
          ))}
          {leadsTo?.through ? ` by ${leadsTo.through}` : ''}
        </>
      ) : null}
      {words && !variants ? <span className="quiet"> {words.map(({ value }) => value).join(', ')}</span> : null}
      {alternatives ? <span className="quiet"> {alternatives.map(({ kind: one }) => one).join(' or ')}</span> : null}
    </>
  )
}

/** Fields with those inside of them, each with its dotted path. */
function flatten(
  fields: readonly FieldModel[],
  above = '',
  depth = 0,
): readonly { readonly field: FieldModel; readonly path: string; readonly depth: number }[] {
  return fields.flatMap((field) => {
    const path = above + field.name
    const inner = field.item?.fields ?? field.fields ?? []
    const variants = (field.variants ?? []).flatMap((shape) =>
      flatten(shape.fields, `${path}.${shape.name}.`, depth + 1),
    )
    return [{ field, path, depth }, ...flatten(inner, `${path}.`, depth + 1), ...variants]
  })
}

function limitsOf({ options, item }: FieldModel): string {
  const own = Object.entries(options)
    .filter(([name]) => name !== 'hints' && name !== 'true' && name !== 'false')
    .map(([name, value]) => `${name} ${typeof value === 'object' ? JSON.stringify(value) : String(value)}`)
  return [...own, ...(item ? [limitsOf(item)] : [])].filter((one) => one !== '').join(', ')
}
