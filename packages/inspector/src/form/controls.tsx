import { type ComponentType, lazy, Suspense } from 'react'
import type { FieldModel } from 'zinc-pantry/inspect'
import { BlockControl } from './block-control.tsx'
import { EitherControl } from './either-control.tsx'
import type { ControlProps } from './field-control.tsx'
import { FileControl } from './file-control.tsx'
import { GroupControl } from './group-control.tsx'
import { ListControl } from './list-control.tsx'
import { MapControl } from './map-control.tsx'
import { RefControl } from './ref-control.tsx'
import {
  ChoiceControl,
  ColourControl,
  DataControl,
  FlagControl,
  InputControl,
  TextControl,
  ValidatorControl,
} from './value-controls.tsx'

const MarkdownEditor = lazy(() => import('../text/markdown-editor.tsx'))

const MarkdownControl = ({ name, value, onChange, isReadOnly, id, describedBy }: ControlProps) => (
  <Suspense fallback={<textarea readOnly value={String(value ?? '')} />}>
    <MarkdownEditor
      id={id}
      label={name}
      describedBy={describedBy}
      text={String(value ?? '')}
      onChange={(text) => onChange(text === '' ? undefined : text)}
      isReadOnly={isReadOnly}
      isSmall
    />
  </Suspense>
)

const CONTROLS: Readonly<Record<string, ComponentType<ControlProps>>> = {
  text: TextControl,
  markdown: MarkdownControl,
  int: InputControl,
  number: InputControl,
  date: InputControl,
  time: InputControl,
  instant: InputControl,
  duration: InputControl,
  url: InputControl,
  email: InputControl,
  flag: FlagControl,
  choice: ChoiceControl,
  variant: ChoiceControl,
  colour: ColourControl,
  image: FileControl,
  file: FileControl,
  ref: RefControl,
  list: ListControl,
  group: GroupControl,
  block: BlockControl,
  either: EitherControl,
  map: MapControl,
  validator: ValidatorControl,
}

/** The control of a kind of field; what may be anything is written as JSON. */
export const controlOf = ({ kind }: FieldModel): ComponentType<ControlProps> => CONTROLS[kind] ?? DataControl

/** True for a field that has controls inside. */
export const isComposite = ({ kind }: FieldModel): boolean =>
  ['list', 'group', 'block', 'either', 'map', 'image'].includes(kind)
