import type { FieldModel } from 'zinc-pantry/inspect'
import { Link } from '../parts/link.tsx'
import { Picture } from '../parts/picture.tsx'
import { valueWords } from '../parts/words.ts'
import { itemOf } from '../site/model.ts'

/** Longer lists are cut. */
const MOST = 6

/** A value in a table. */
export function Cell({ value, field }: { readonly value: unknown; readonly field: FieldModel | undefined }) {
  if (value === null || value === undefined) return <span className="quiet">–</span>
  const item = field && itemOf(field)
  if (Array.isArray(value)) {
    const isPlain = item !== undefined && item.kind !== 'group' && item.kind !== 'block'
    if (!isPlain) return <span className="quiet">{value.length === 0 ? '–' : `${value.length} ×`}</span>
    return (
      <span className="list-cell">
        {value.slice(0, MOST).map((one) => (
          <Cell key={String(one)} value={one} field={item} />
        ))}
        {value.length > MOST ? <span className="quiet">+{value.length - MOST}</span> : null}
      </span>
    )
  }
  if (item?.kind === 'ref' || item?.kind === 'reverse') {
    const [target = ''] = item.leadsTo?.targets ?? []
    const name = typeof value === 'string' ? `${target}/${value}` : nameOf(value)
    return (
      <Link view="entry" values={{ name }}>
        {name.slice(name.indexOf('/') + 1)}
      </Link>
    )
  }
  if (item?.kind === 'image' && typeof value === 'object') {
    const { file, alt } = value as { readonly file?: string; readonly alt?: string }
    return file === undefined ? null : <Picture path={file} alt={alt ?? ''} className="thumb" />
  }
  if (item?.kind === 'colour')
    return (
      <span className="nowrap">
        <span className="swatch" style={{ background: String(value) }} /> {String(value)}
      </span>
    )
  if (typeof value === 'number') return <>{value.toLocaleString('en-GB', { maximumFractionDigits: 6 })}</>
  if (item?.kind === 'choice') return <>{item.words?.find((one) => one.value === value)?.label ?? String(value)}</>
  if (typeof value === 'boolean') return <>{value ? 'yes' : 'no'}</>
  return <>{valueWords(value)}</>
}

/** The name of an entry of one of several collections. */
const nameOf = (value: unknown): string => {
  const { collection, id } = value as { readonly collection?: string; readonly id?: string }
  return `${collection}/${id}`
}
