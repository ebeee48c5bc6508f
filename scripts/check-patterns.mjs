/**
 * Checks that no regular expression of ours takes more than a time in proportion to its text: content is written by others, and a run of
 * spaces or dots in a file of megabytes must not hang a build, or an editor. Patterns that may go on from each place of a run, or that can
 * share a run between two of their parts, are told.
 */
import { readdirSync, readFileSync } from 'node:fs'
import { join } from 'node:path'
import { parse } from '@babel/parser'
import { analyse } from 'scslre'

const SOURCES = ['packages/zinc-pantry/src', 'packages/inspector/src', 'packages/editor-extension/src']

/** Patterns that are right although they are told, by their files and names, and why. */
const RIGHT = {
  'packages/inspector/src/text/markdown-editor.tsx LIKELY': 'the editor asks it of 250 signs at most',
  'packages/zinc-pantry/src/body/markdown/source-map.ts LINE': 'one of the ends stands behind every line',
  'packages/zinc-pantry/src/change/entry-place.ts ENDING': 'a pattern of the configuration is short',
  'packages/zinc-pantry/src/change/entry-place.ts PAGE': 'a pattern of the configuration is short',
  'packages/zinc-pantry/src/diagnostics/format-count.ts THOUSANDS': 'a number has few digits',
  'packages/zinc-pantry/src/query/search-terms.ts TERM': 'its last part takes whatever run the others leave',
  'packages/zinc-pantry/src/query/words.ts WORD': 'its last part takes whatever run the others leave',
  'packages/zinc-pantry/src/read/yaml-fallback-parser.ts TAG': 'it is asked of a thousand signs',
  'packages/zinc-pantry/src/schema/slug.ts LEADING_NUMBER': 'the name of a file is short',
}

const told = []
const used = new Set()
let count = 0
for (const source of SOURCES)
  for (const name of readdirSync(source, { recursive: true }).filter((one) => /\.tsx?$/.test(one))) {
    const file = join(source, name)
    for (const { pattern, flags, loc, constant } of patternsIn(readFileSync(file, 'utf8'))) {
      count++
      const { reports } = analyse({ source: pattern, flags }, { reportTypes: { Move: true, Self: true, Trade: true } })
      const key = `${file} ${constant}`
      if (reports.length > 0 && Object.hasOwn(RIGHT, key)) used.add(key)
      else if (reports.length > 0)
        told.push(`${file}:${loc.start.line} /${pattern}/${flags}: ${reports.map(wordsOf).join(', ')}`)
    }
  }
for (const key of Object.keys(RIGHT).filter((one) => !used.has(one))) told.push(`${key} is right without a reason`)
for (const line of told) console.error(line)
if (told.length > 0) process.exit(1)
console.log(`${count} patterns take a time in proportion to their texts`)

function patternsIn(text) {
  const found = []
  const visit = (node, constant) => {
    if (node === null || typeof node !== 'object') return
    if (node.type === 'RegExpLiteral') found.push({ ...node, constant })
    const own = node.type === 'VariableDeclarator' ? node.id.name : constant
    for (const value of Object.values(node)) visit(value, own)
  }
  visit(parse(text, { sourceType: 'module', plugins: ['typescript', 'jsx'] }).program)
  return found
}

function wordsOf({ type, character }) {
  const how = { Move: 'it is tried from each place of a run of', Self: 'it repeats itself in a run of' }
  return `${how[type] ?? 'two of its parts share a run of'} ${character.literal?.source ?? character.pick}`
}
