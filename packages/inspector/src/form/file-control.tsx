import { useState } from 'react'
import { Button } from 'react-aria-components/Button'
import { Picture } from '../parts/picture.tsx'
import { call, isRefusal } from '../site/calls.ts'
import { useCall, wordsOf } from '../site/use-call.ts'
import type { ControlProps } from './field-control.tsx'
import { useForm } from './form-context.ts'
import { isGroup, withKey } from './record.ts'

const PICTURES = 'png|jpe?g|webp|avif|gif|svg'

/** A file of the content, or a picture with what is said in its place. */
export function FileControl({ id, name, describedBy, isInvalid, field, value, onChange, isReadOnly }: ControlProps) {
  const { folder } = useForm()
  const [isChoosing, setChoosing] = useState(false)
  const isImage = field.kind === 'image'
  const record = isGroup(value) ? value : undefined
  const path = record ? String(record.file ?? '') : typeof value === 'string' ? value : ''
  const alternative = typeof record?.alt === 'string' ? record.alt : ''
  const kinds = Array.isArray(field.options.kinds) ? (field.options.kinds as readonly string[]) : undefined
  const pattern = kinds ? kinds.map((one) => (one === 'jpeg' ? 'jpe?g' : one)).join('|') : isImage ? PICTURES : '\\w+'
  const set = (file: string, alt: string): void => {
    if (file === '' && alt === '') onChange(undefined)
    else if (isImage && (alt !== '' || record))
      onChange(withKey({ ...record, file }, 'alt', alt === '' ? undefined : alt))
    else onChange(file)
  }
  const resolved = resolve(path, folder)
  return (
    <div className="file">
      {isImage && path !== '' ? <Picture path={resolved} alt={alternative} className="preview" /> : null}
      <div className="file-fields">
        <span className="pair">
          <input
            id={id}
            aria-label={`${name}: file`}
            aria-describedby={describedBy}
            aria-invalid={isInvalid || undefined}
            value={path}
            readOnly={isReadOnly}
            placeholder="pictures/name.png"
            onChange={(event) => set(event.target.value, alternative)}
          />
          <Button
            className="button small"
            aria-expanded={isChoosing}
            isDisabled={isReadOnly}
            onPress={() => setChoosing(!isChoosing)}
          >
            Choose
          </Button>
        </span>
        {isImage && field.options.alternative !== 'none' ? (
          <input
            aria-label={`${name}: words for who cannot see it`}
            placeholder="words for who cannot see it"
            value={alternative}
            readOnly={isReadOnly}
            onChange={(event) => set(path, event.target.value)}
          />
        ) : null}
        {isChoosing && isImage ? (
          <Upload
            onPut={(file) => {
              set(`/${file}`, alternative)
              setChoosing(false)
            }}
          />
        ) : null}
        {isChoosing ? (
          <Files
            pattern={pattern}
            isImage={isImage}
            onChoose={(file) => {
              set(`/${file}`, alternative)
              setChoosing(false)
            }}
          />
        ) : null}
      </div>
    </div>
  )
}

/** Puts a picture of this machine into the content. */
function Upload({ onPut }: { readonly onPut: (file: string) => void }) {
  const [said, setSaid] = useState('')
  const put = async (file: File): Promise<void> => {
    try {
      const answer = await call('upload', { name: file.name, data: await asBase64(file) })
      if (isRefusal(answer)) setSaid([answer.refused, answer.help].filter(Boolean).join('. '))
      else onPut(answer.file)
    } catch (error) {
      setSaid(wordsOf(error))
    }
  }
  return (
    <label className="field-line">
      <span>From this machine</span>
      <input
        type="file"
        accept="image/*"
        onChange={(event) => {
          const [file] = event.target.files ?? []
          if (file) void put(file)
        }}
      />
      {said === '' ? null : (
        <span role="status" className="error">
          {said}
        </span>
      )}
    </label>
  )
}

/** The bytes of a file in Base64. */
const asBase64 = (file: File): Promise<string> =>
  new Promise((resolve, reject) => {
    const reader = new FileReader()
    reader.onload = () => resolve(String(reader.result).replace(/^[^,]*,/, ''))
    reader.onerror = () => reject(new Error(`${file.name} cannot be read`))
    reader.readAsDataURL(file)
  })

function Files({
  pattern,
  isImage,
  onChoose,
}: {
  readonly pattern: string
  readonly isImage: boolean
  readonly onChoose: (file: string) => void
}) {
  const { answer } = useCall('files', { pattern })
  if (!answer) return null
  if (answer.length === 0) return <p className="quiet">There is no such file in the content folder yet.</p>
  return (
    <div className="files">
      {answer.map((file) => (
        <Button key={file} className="file-choice" onPress={() => onChoose(file)}>
          {isImage ? <Picture path={file} alt="" /> : null}
          <span>{file}</span>
        </Button>
      ))}
    </div>
  )
}

/** A path from the content folder, of one that leads from the folder of an entry. */
function resolve(path: string, folder: string): string {
  if (path.startsWith('/')) return path.slice(1)
  const steps = folder === '' ? [] : folder.split('/')
  for (const step of path.split('/')) {
    if (step === '..') steps.pop()
    else if (step !== '.') steps.push(step)
  }
  return steps.join('/')
}
