import {
  autocompletion,
  type CompletionContext,
  type CompletionResult,
  completionKeymap,
} from '@codemirror/autocomplete'
import { defaultKeymap, history, historyKeymap } from '@codemirror/commands'
import {
  defaultHighlightStyle,
  defineLanguageFacet,
  HighlightStyle,
  Language,
  syntaxHighlighting,
} from '@codemirror/language'
import { Compartment, EditorState } from '@codemirror/state'
import { EditorView, keymap, placeholder, tooltips } from '@codemirror/view'
import { tags } from '@lezer/highlight'
import { GFM, parser } from '@lezer/markdown'
import { useEffect, useRef } from 'react'

const LANGUAGE = new Language(defineLanguageFacet(), parser.configure(GFM), [], 'markdown')

const STYLE = HighlightStyle.define([
  { tag: tags.heading, fontWeight: '650' },
  { tag: tags.strong, fontWeight: '650' },
  { tag: tags.emphasis, fontStyle: 'italic' },
  { tag: tags.link, color: 'var(--accent)' },
  { tag: tags.url, color: 'var(--accent)' },
  { tag: tags.monospace, color: 'var(--warning)' },
  { tag: tags.processingInstruction, color: 'var(--quiet)' },
  { tag: tags.quote, color: 'var(--quiet)' },
])

/** What may come next at an offset of a text. */
export type AskCompletion = (
  text: string,
  offset: number,
) => Promise<
  readonly {
    readonly label: string
    readonly detail?: string
    readonly text: string
    readonly from: number
    readonly to: number
  }[]
>

/** A text editor for Markdown. Tab is a key of it; Escape and then Tab leaves it. */
export default function MarkdownEditor({
  id,
  describedBy,
  label,
  text,
  onChange,
  isReadOnly = false,
  isSmall = false,
  complete,
}: {
  readonly id?: string
  readonly describedBy?: string | undefined
  readonly label?: string
  readonly text: string
  readonly onChange: (text: string) => void
  readonly isReadOnly?: boolean
  readonly isSmall?: boolean
  readonly complete?: AskCompletion
}) {
  const holder = useRef<HTMLDivElement>(null)
  const view = useRef<EditorView>(undefined)
  const latest = useRef({ onChange, complete })
  latest.current = { onChange, complete }
  // biome-ignore lint/correctness/useExhaustiveDependencies: the editor is made once, and told of what changes below.
  useEffect(() => {
    if (!holder.current) return
    const editor = new EditorView({
      parent: holder.current,
      state: EditorState.create({
        doc: text,
        extensions: [
          history(),
          keymap.of([...completionKeymap, ...defaultKeymap, ...historyKeymap]),
          LANGUAGE,
          syntaxHighlighting(STYLE),
          syntaxHighlighting(defaultHighlightStyle, { fallback: true }),
          EditorView.lineWrapping,
          tooltips({ parent: document.body }),
          READ_ONLY.of([EditorState.readOnly.of(isReadOnly)]),
          autocompletion({ override: [(context) => askFor(context, latest.current.complete)], activateOnTyping: true }),
          placeholder(isSmall ? '' : 'The text of the entry'),
          EditorView.contentAttributes.of({
            ...(id ? { id } : {}),
            ...(label ? { 'aria-label': label } : {}),
            ...(describedBy ? { 'aria-describedby': describedBy } : {}),
            role: 'textbox',
            'aria-multiline': 'true',
            tabindex: '0',
          }),
          EditorView.updateListener.of((update) => {
            if (update.docChanged) latest.current.onChange(update.state.doc.toString())
          }),
        ],
      }),
    })
    view.current = editor
    return () => editor.destroy()
  }, [])
  useEffect(() => {
    const editor = view.current
    if (editor && editor.state.doc.toString() !== text)
      editor.dispatch({ changes: { from: 0, to: editor.state.doc.length, insert: text } })
  }, [text])
  useEffect(() => {
    view.current?.dispatch({ effects: READ_ONLY.reconfigure([EditorState.readOnly.of(isReadOnly)]) })
  }, [isReadOnly])
  return <div ref={holder} className={isSmall ? 'text-editor small' : 'text-editor'} />
}

const READ_ONLY = new Compartment()

/** Behind what something may be completed. */
const LIKELY = /(?:\]\([^)\s]*|\[[^\]\n]*|:{2,3}[\w-]*|\{[^}\n]*|\/[\w/-]*)$/

async function askFor(
  context: CompletionContext,
  complete: AskCompletion | undefined,
): Promise<CompletionResult | null> {
  if (!complete) return null
  const isLikely = context.explicit || context.matchBefore(LIKELY)
  if (!isLikely) return null
  const offers = await complete(context.state.doc.toString(), context.pos)
  const [first] = offers
  if (!first || context.aborted) return null
  const { from, to } = first
  const typed = context.state.doc.sliceString(from, to).toLowerCase()
  // What is typed is a part of the path or of what people call it.
  const fitting = offers.filter(
    (one) => one.from === from && one.to === to && `${one.label} ${one.text}`.toLowerCase().includes(typed),
  )
  return {
    ...{ from, to, filter: false },
    options: fitting.map(({ label, detail, text }) => ({ label, apply: text, ...(detail ? { detail } : {}) })),
  }
}
