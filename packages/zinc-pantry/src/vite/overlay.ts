import type { ErrorPayload } from 'vite'
import { type Diagnostic, helpOf, messageOf } from '../diagnostics/diagnostic.ts'
import { largest } from '../diagnostics/extremes.ts'
import { createLineIndex } from '../diagnostics/line-index.ts'
import { renderText } from '../diagnostics/render-text.ts'
import { plural } from '../diagnostics/words.ts'
import type { SiteReport } from '../engine/site-report.ts'

/** The first error of a report as the overlay shows it; undefined where there is none. */
export function describeForOverlay({ diagnostics, textOf }: SiteReport, root: string): ErrorPayload | undefined {
  const errors = diagnostics.filter(({ severity }) => severity === 'error')
  const [first] = errors
  if (!first) return undefined
  const help = helpOf(first)
  const others =
    errors.length > 1
      ? `\n\nThere ${errors.length === 2 ? 'is' : 'are'} ${plural(errors.length - 1, 'other error')}`
      : ''
  const file = `${root}/${first.file}`
  return {
    type: 'error',
    err: {
      plugin: 'zinc-pantry',
      message: `${messageOf(first)} (${first.code})${help ? `\nhelp: ${help}` : ''}${others}`,
      stack: '',
      id: file,
      loc: { file, ...lineAndColumn(first, textOf(first.file)) },
      frame: drawFrame(renderText([first], textOf)),
    },
  }
}

function lineAndColumn({ span }: Diagnostic, text: string | undefined): { line: number; column: number } {
  const { line, column } = createLineIndex(text ?? '').at(span[0])
  return { line, column }
}

/** The lines of source in the text form of a problem, with the stroke by which the overlay knows them. */
function drawFrame(text: string): string {
  const lines = [...text.matchAll(/^ *(\d*) │(.*)$/gm)]
  const width = largest(lines, ([, number = '']) => number.length)
  // Numbers stand to the left, since the spaces before the first are taken away.
  return lines.map(([, number = '', source]) => `${number.padEnd(width)} |${source}\n`).join('')
}
