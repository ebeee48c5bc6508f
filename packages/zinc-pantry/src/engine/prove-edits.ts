import type { Edit } from '../diagnostics/diagnostic.ts'
import { areSame } from '../memo/are-same.ts'
import type { Format } from '../read/formats.ts'
import { listYamlComments } from '../read/yaml-comments.ts'
import { applyEdits, withoutOverlap } from './apply-edits.ts'

interface Source {
  readonly file: string
  readonly text: string
  readonly format: Format
}

/** Of so many edits of a file that are not right together each is proved by itself. */
const MOST_ALONE = 50

/**
 * Of some edits of a file those that are safe: with them made, the file can be read as well as before, no value is another
 * but those that were to be mended, and what was a comment still is one.
 */
export function proveEdits(source: Source, edits: readonly Edit[]): readonly Edit[] {
  const together = withoutOverlap(edits)
  const taken = new Set(together)
  // Those that overlap others are made in a later round, where they are proved again.
  const others = edits.filter((edit) => !taken.has(edit))
  if (isSafe(source, together)) return [...together, ...others.filter((edit) => isSafe(source, [edit]))]
  return edits.length > MOST_ALONE ? [] : edits.filter((edit) => isSafe(source, [edit]))
}

function isSafe(source: Source, edits: readonly Edit[]): boolean {
  const { format } = source
  const text = applyEdits(source.text, edits)
  const [before, after] = [source, { ...source, text }].map((one) => ({ ...format.read(one, {}), text: one.text }))
  if (!before || !after) return false
  if (!areSame(commentsOf(before), commentsOf(after))) return false
  if (!before.document) {
    // The first fault of a text hides what is behind it; a mend must leave it behind.
    const [fault] = after.diagnostics
    if (fault === undefined) return true
    if (fault.span[0] <= (edits.at(-1)?.span[0] ?? 0) + 1) return false
    // With a word in the place of what was put into quotes, the next fault is the same: the quotes are not its cause.
    const plain = edits.map((edit) =>
      /^["']/.test(edit.text) ? { ...edit, text: 'x'.repeat(edit.text.length) } : edit,
    )
    const [other] = format.read({ ...source, text: applyEdits(source.text, plain) }, {}).diagnostics
    return other?.code === fault.code && other.span[0] === fault.span[0]
  }
  if (!after.document || after.diagnostics.length > before.diagnostics.length) return false
  if (before.body?.text !== after.body?.text) return false
  return countDifferences(before.document.value, after.document.value) <= edits.length
}

/** Comments of YAML, alone or in front of a body. Edits of other formats are within values. */
function commentsOf({
  text,
  body,
}: {
  readonly text: string
  readonly body?: { readonly startOffset: number } | undefined
}): string[] {
  const isYaml = body === undefined || text.startsWith('---')
  return isYaml ? listYamlComments(body ? text.slice(0, body.startOffset) : text) : []
}

/** At how many places two values differ; another name of a key is one. */
function countDifferences(one: unknown, other: unknown): number {
  if (Object.is(one, other)) return 0
  if (!isHolder(one) || !isHolder(other) || Array.isArray(one) !== Array.isArray(other)) return 1
  const [keys, others] = [Object.keys(one), Object.keys(other)]
  let count = 0
  const gone = keys.filter((key) => !Object.hasOwn(other, key))
  const come = others.filter((key) => !Object.hasOwn(one, key))
  for (const [at, key] of gone.entries()) {
    const renamed = come[at]
    count += 1 + (renamed === undefined ? 0 : countDifferences(one[key], other[renamed]))
  }
  count += Math.max(0, come.length - gone.length)
  for (const key of keys) if (Object.hasOwn(other, key)) count += countDifferences(one[key], other[key])
  return count
}

const isHolder = (value: unknown): value is Readonly<Record<string, unknown>> =>
  typeof value === 'object' && value !== null
