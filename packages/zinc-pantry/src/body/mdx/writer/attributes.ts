import type { Element } from 'hast'
import { find, hastToReact, html } from 'property-information'
import { doubt } from '../doubt.ts'

/** A property of an element with the code of its value, which is written at the depth that it is called with. */
export interface WrittenProperty {
  /** Nothing for one that is spread. */
  readonly name: string | undefined
  readonly value: string
}

/** A name as it stands in an object. */
export const writeKey = (name: string): string => (/^[A-Za-z_$][\w$]*$/.test(name) ? name : JSON.stringify(name))

/** The properties of an element of HTML, by the names that React has for them. */
export function writeProperties({ tagName, properties }: Element, depth: number): WrittenProperty[] {
  const written: WrittenProperty[] = []
  let align: string | undefined
  for (const [property, value] of Object.entries(properties)) {
    const info = find(html, property)
    if (value === null || value === undefined || value === false || Number.isNaN(value)) continue
    if (!value && info.boolean) continue
    const name = info.space ? (hastToReact[info.property as keyof typeof hastToReact] ?? info.property) : info.attribute
    if (name === 'style' || name === 'key') doubt('a property with a meaning of its own')
    if (!/^[A-Za-z_$][\w$-]*$/.test(name)) doubt('a property with another name')
    if (Array.isArray(value)) written.push({ name, value: JSON.stringify(joinWords(value, info.commaSeparated)) })
    else if (value === true) written.push({ name, value: 'true' })
    else if (name === 'align' && (tagName === 'td' || tagName === 'th')) align = String(value)
    else written.push({ name, value: JSON.stringify(String(value)) })
  }
  if (align !== undefined) {
    const pad = '  '.repeat(depth)
    written.push({ name: 'style', value: `{\n${pad}  textAlign: ${JSON.stringify(align)}\n${pad}}` })
  }
  return written
}

function joinWords(values: readonly unknown[], hasCommas: boolean): string {
  if (hasCommas) return doubt('a list with commas')
  return values.join(' ').trim()
}
