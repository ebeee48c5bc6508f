import { createContext, useContext } from 'react'
import type { ModelView, RecordProblem } from 'zinc-pantry/inspect'

/** What all controls of a form know. */
export interface FormContext {
  readonly model: ModelView
  readonly problems: readonly RecordProblem[]
  readonly isReadOnly: boolean
  /** The folder of the entry's file, relative to the content folder, from which its paths lead. */
  readonly folder: string
}

const Context = createContext<FormContext | undefined>(undefined)
export const FormProvider = Context.Provider

/** What all controls of a form know. */
export function useForm(): FormContext {
  const context = useContext(Context)
  if (!context) throw new Error('A control stands in a form')
  return context
}
