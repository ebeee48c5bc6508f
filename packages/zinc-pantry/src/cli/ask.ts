import type { Question } from '../engine/change/new-planner.ts'

/** More choices than that are searched by typing. */
const MOST_LISTED = 8

/** Asks a person at a terminal for a value; undefined where there is no answer, so that it is left to be filled in. */
export async function askAtTerminal({
  field,
  description,
  expected,
  choices,
  isMany,
}: Question): Promise<string | undefined> {
  // Loaded for the first question only.
  const { autocomplete, autocompleteMultiselect, isCancel, multiselect, select, text } = await import('@clack/prompts')
  const message = description === undefined ? field : `${field}: ${description}`
  const shared = { message, maxItems: MOST_LISTED }
  const options = (choices ?? []).map(({ value, label }) =>
    label === value ? { value } : { value, label, hint: value },
  )
  const isLong = options.length > MOST_LISTED
  if (options.length === 0) {
    const answer = await text({ message, placeholder: `${expected}; empty to fill it in later` })
    return isCancel(answer) ? undefined : answer
  }
  if (isMany) {
    const ask = isLong ? autocompleteMultiselect<string> : multiselect<string>
    const answer = await ask({ ...shared, options, required: false })
    return isCancel(answer) ? undefined : answer.join(',')
  }
  const answer = await (isLong ? autocomplete<string> : select<string>)({ ...shared, options })
  return isCancel(answer) ? undefined : answer
}
