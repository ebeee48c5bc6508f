import { locateProperty } from '../body/body-summary.ts'
import { componentName } from '../body/component-name.ts'
import type { Place } from '../diagnostics/diagnostic.ts'
import { qualifiedId } from '../link/pages.ts'
import { writtenKey } from '../schema/written-key.ts'
import type { LinkedEntry } from '../validate/entry.ts'
import type { Attention, ChangeStep } from './change.ts'
import { blockLevel, choiceSymbol, fieldSymbol } from './model-names.ts'
import type { SymbolRenaming } from './rename-names.ts'
import type { ChangeSubject } from './subject.ts'
import { writeProperty } from './write-scalar.ts'

/** The renaming in the blocks that a body uses: their names, their properties and what these hold. */
export function renameInBody(
  { model, textOf }: ChangeSubject,
  entry: LinkedEntry,
  { symbols, name }: SymbolRenaming,
): { readonly steps: readonly ChangeStep[]; readonly attention: readonly Attention[] } {
  const { body } = entry
  const steps: ChangeStep[] = []
  const attention: Attention[] = []
  if (!body) return { steps, attention }
  const { file, startOffset, format } = body
  const placeOf = ([start, end]: readonly [number, number]): Place => ({
    file,
    span: [start + startOffset, end + startOffset],
  })
  const closed = new Map<string, number>()
  for (const use of body.summary.uses) {
    const level = use.block === undefined ? undefined : blockLevel(model, use.block)
    if (!level) continue
    if (symbols.has(level.owner)) {
      const text = format === 'mdx' ? componentName(name) : name
      steps.push({ kind: 'edit', ...placeOf(use.span), text, reason: `the block is ${name}` })
      if (format === 'mdx') closed.set(use.name, (closed.get(use.name) ?? 0) + 1)
    }
    for (const [own, field] of Object.entries(level.fields)) {
      const key = writtenKey(own, field)
      if (!use.places.some((place) => place.name === key)) continue
      const symbol = fieldSymbol(level.owner, [own])
      if (symbols.has(symbol) && field.options.writtenAs === undefined)
        steps.push({
          kind: 'edit',
          ...placeOf(locateProperty(use, key, 'key')),
          text: name,
          reason: `the property is ${name}`,
        })
      const value = use.values[key]
      if (typeof value !== 'string' || !symbols.has(choiceSymbol(symbol, value))) continue
      const place = placeOf(locateProperty(use, key, 'value'))
      const text = textOf(file)?.slice(...place.span) === value ? writeProperty(name) : undefined
      if (text !== undefined) steps.push({ kind: 'edit', ...place, text, reason: `the value is ${name}` })
      else attention.push({ place, words: `${qualifiedId(entry)} has to say ${name} here, to be written by hand` })
    }
  }
  for (const [component, count] of closed) {
    const closings = closingTags(textOf(file)?.slice(startOffset) ?? '', component)
    if (closings.length > count)
      attention.push({ place: placeOf(closings[0] ?? [0, 0]), words: `</${component}> has to be renamed by hand` })
    else
      for (const span of closings)
        steps.push({ kind: 'edit', ...placeOf(span), text: componentName(name), reason: `the block is ${name}` })
  }
  return { steps, attention }
}

/** Where the ends of a component are written, but for those that stand in code. */
function closingTags(text: string, component: string): readonly (readonly [number, number])[] {
  const plain = text.replace(/^(`{3,}(?!`)|~{3,}(?!~))[\s\S]*?^\1|`[^`\n]+`/gm, (code) => ' '.repeat(code.length))
  return [...plain.matchAll(new RegExp(`</\\s*(${component})\\s*>`, 'g'))].map(({ 0: tag, index }) => {
    const start = index + tag.indexOf(component)
    return [start, start + component.length] as const
  })
}
