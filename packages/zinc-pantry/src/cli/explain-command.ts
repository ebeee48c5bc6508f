import { diagnosticCodes, explainCode } from '../engine/index.ts'
import { createPalette } from './palette.ts'
import { refuse } from './refuse.ts'
import { exitCodes, type Surroundings } from './surroundings.ts'

const indented = (text: string): string =>
  text
    .split('\n')
    .map((line) => `    ${line}`)
    .join('\n')

/** The command `explain`: what a code means, with examples; without a code, all of them. */
export function runExplain(code: string | undefined, surroundings: Surroundings): number {
  const { stdout } = surroundings
  if (code === undefined) {
    stdout.write(`${diagnosticCodes().join('\n')}\n`)
    return exitCodes.clean
  }
  const explained = explainCode(code)
  if (!('meaning' in explained)) {
    const help = explained.suggestion
      ? `Did you mean "${explained.suggestion}"?`
      : 'zinc-pantry explain lists all codes'
    return refuse(surroundings, `There is no code "${code}"`, help)
  }
  const { severity, meaning, wrong, right } = explained
  const palette = createPalette(stdout, surroundings)
  const paint = severity === 'error' ? palette.error : palette.warning
  const parts = [
    `${palette.strong(code)} ${paint(severity)}`,
    '',
    wrap(meaning),
    '',
    palette.faint('This raises it:'),
    indented(wrong),
    '',
    palette.faint('This does not:'),
    indented(right),
  ]
  stdout.write(`${parts.join('\n')}\n`)
  return exitCodes.clean
}

/** Breaks a text into lines of at most 80 characters. */
const wrap = (text: string): string => text.replace(/(.{1,80})(?:\s+|$)/g, '$1\n').trimEnd()
