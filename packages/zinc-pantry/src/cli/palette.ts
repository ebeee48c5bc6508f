import pc from 'picocolors'
import type { Palette } from '../diagnostics/render-text.ts'
import type { Output, Surroundings } from './surroundings.ts'

/** Colours for an output: on a terminal, unless NO_COLOR is set, or anywhere with FORCE_COLOR. */
export function createPalette(output: Output, { env }: Surroundings): Palette & { good(text: string): string } {
  const forced = env.FORCE_COLOR !== undefined && env.FORCE_COLOR !== '0'
  const plain = Boolean(env.NO_COLOR) || env.TERM === 'dumb'
  const { red, yellow, bold, dim, cyan, green } = pc.createColors(forced || (output.isTTY === true && !plain))
  return {
    error: (text) => bold(red(text)),
    warning: (text) => bold(yellow(text)),
    strong: bold,
    faint: dim,
    place: cyan,
    good: green,
  }
}
