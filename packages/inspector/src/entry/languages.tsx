import type { CollectionView, HeadView, RecordView } from 'zinc-pantry/inspect'
import { valueWords } from '../parts/words.ts'
import { useCall } from '../site/use-call.ts'
import { nameOf } from './history.tsx'

/** The languages of an entry beside each other. */
export function Languages({ view, collection }: { readonly view: RecordView; readonly collection: CollectionView }) {
  const others = view.versions.filter(({ locale }) => locale !== view.head.locale)
  const missing = collection.locales.filter((locale) => !view.versions.some((one) => one.locale === locale))
  return (
    <>
      {others.map((head) => (
        <Beside key={head.locale} view={view} other={head} />
      ))}
      {missing.length > 0 ? <p className="quiet">It lacks {missing.join(', ')}.</p> : null}
    </>
  )
}

function Beside({ view, other }: { readonly view: RecordView; readonly other: HeadView }) {
  const { answer } = useCall('entry', nameOf(other))
  if (!answer) return null
  const keys = [...new Set([...Object.keys(view.written), ...Object.keys(answer.written)])]
  return (
    <div className="scrolled">
      <table className="plain">
        <thead>
          <tr>
            <th scope="col">Field</th>
            <th scope="col">{view.head.locale}</th>
            <th scope="col">{other.locale}</th>
          </tr>
        </thead>
        <tbody>
          {keys.map((key) => (
            <tr key={key}>
              <th scope="row">{key}</th>
              <td>{valueWords(view.written[key])}</td>
              <td>{valueWords(answer.written[key]) || <span className="quiet">–</span>}</td>
            </tr>
          ))}
          {view.body || answer.body ? (
            <tr>
              <th scope="row">body</th>
              <td className="body-text">{view.body?.text}</td>
              <td className="body-text">{answer.body?.text}</td>
            </tr>
          ) : null}
        </tbody>
      </table>
    </div>
  )
}
