import { useEffect, useState } from 'react'
import type { RecordView } from 'zinc-pantry/inspect'
import { type Group, isSame } from '../form/record.ts'

/** What is typed into the form of an entry, and the state of its file that it began from. */
export interface Draft {
  readonly record: Group
  readonly body: string | undefined
  readonly base: DraftBase
}

/** The entry as it was when somebody began to type. */
export interface DraftBase {
  readonly record: Group
  readonly body: string | undefined
  readonly digest: string
}

/** The draft of an entry as a form uses it. */
export interface DraftState {
  readonly draft: Draft
  readonly isChanged: boolean
  /** True for one that was kept over a reload. */
  readonly isKept: boolean
  /** The entry as its file has it by now, where that is another than the draft began from. */
  readonly stale: RecordView | undefined
  change(changes: Partial<Pick<Draft, 'record' | 'body'>>): void
  /** Begins from an entry, with what is typed or without it. */
  restart(view: RecordView, typed?: Pick<Draft, 'record' | 'body'>): void
}

const baseOf = ({ written, body, digest }: RecordView): DraftBase => ({ record: written, body: body?.text, digest })

/** Keeps what is typed of an entry, over a reload too; without anything typed it follows the file. */
export function useDraft(view: RecordView, site: string): DraftState {
  const key = `pantry-draft ${site} ${view.head.name} ${view.head.locale ?? ''}`
  const [state, setState] = useState(() => {
    const kept = readDraft(key)
    return { draft: kept ?? fresh(baseOf(view)), isKept: kept !== undefined }
  })
  const { draft, isKept } = state
  const isChanged = !isSame(draft.record, draft.base.record) || draft.body !== draft.base.body
  const isOld = draft.base.digest !== view.digest
  useEffect(() => {
    if (isOld && !isChanged) setState({ draft: fresh(baseOf(view)), isKept: false })
  }, [isOld, isChanged, view])
  useEffect(() => {
    if (isChanged) localStorage.setItem(key, JSON.stringify(draft))
    else localStorage.removeItem(key)
  }, [key, draft, isChanged])
  return {
    ...{ draft, isChanged, isKept: isKept && isChanged },
    stale: isOld && isChanged ? view : undefined,
    change: (changes) => setState((last) => ({ draft: { ...last.draft, ...changes }, isKept: last.isKept })),
    restart(now, typed) {
      setState({ draft: { ...fresh(baseOf(now)), ...typed }, isKept: false })
    },
  }
}

const fresh = (base: DraftBase): Draft => ({ record: base.record, body: base.body, base })

function readDraft(key: string): Draft | undefined {
  try {
    const kept = JSON.parse(localStorage.getItem(key) ?? 'null') as Draft | null
    return kept?.base?.record && kept.record ? kept : undefined
  } catch {
    return undefined
  }
}
