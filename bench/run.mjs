#!/usr/bin/env node
/**
 * Compares our work with that of plain parts, in one run, and prints ratios of medians.
 *
 *   npm run bench [-- --files 5000] [--rounds 7] [--yardstick]
 */
import { existsSync } from 'node:fs'
import { join } from 'node:path'
import { fileURLToPath } from 'node:url'
import { parseArgs } from 'node:util'
import { buildPackage, installDependencies, runProgram } from '../scripts/install.mjs'
import { CACHE, compareRounds, corpusOf, measure } from './compare.mjs'
import { median } from './record.mjs'

process.chdir(fileURLToPath(new URL('..', import.meta.url)))
const { values } = parseArgs({
  options: {
    files: { type: 'string', default: '5000' },
    rounds: { type: 'string', default: '7' },
    yardstick: { type: 'boolean', default: false },
  },
})
installDependencies()
await buildPackage()
if (!existsSync('bench/node_modules'))
  runProgram('npm', ['ci', '--no-audit', '--no-fund', '--loglevel=error'], { cwd: 'bench' })

const out = join(CACHE, 'out.json')
const compare = (ours, theirs) => compareRounds(Number(values.rounds), ours, theirs)

const print = (title, lines) => console.log(`\n${[title, ...lines.map((line) => `  ${line}`)].join('\n')}`)
console.log(`Medians of ${values.rounds} rounds, process start aside`)

const plain = corpusOf(values.files, 'md', false)
const check = compare(
  () => measure('check.mjs', plain),
  () => {
    const { walk, read, yaml, zod } = measure('floor.mjs', plain, out).ms
    return { ms: walk + read + yaml + zod }
  },
)
print(`Front matter of ${check.record.files} files`, [
  `floor: walk, read, YAML, validation   ${check.other} ms`,
  `check: the same with places           ${check.own} ms, ${check.peak} MB at the peak`,
  `check / floor                         ${check.ratio}   (limit 1.8)`,
])

const whole = corpusOf(values.files, 'md', true)
const build = compare(
  () => measure('build.mjs', whole),
  () => ({ ms: Math.round(measure('floor.mjs', whole, out).seconds * 1000) }),
)
print(`Cold build of ${build.record.files} files: bodies, links, indexes and types`, [
  `floor: the parts alone                ${build.other} ms`,
  `build                                 ${build.own} ms, ${build.peak} MB at the peak`,
  `build / floor                         ${build.ratio}   (limit 1.7)`,
])

if (values.yardstick) {
  const rounds = Array.from({ length: 3 }, () => {
    const byHand = measure('yardstick.mjs', whole, out, '--gfm')
    const own = measure('build.mjs', whole)
    return { byHand, own, ratio: (byHand.seconds * 1000) / own.ms }
  })
  const of = (take) => median(rounds.map(take))
  print('By hand with common packages, bodies rendered; medians of 3 rounds', [
    `yardstick                             ${Math.round(of(({ byHand }) => byHand.seconds) * 1000)} ms, ${of(({ byHand }) => byHand.peakRssMB)} MB at the peak`,
    `build                                 ${of(({ own }) => own.ms)} ms, ${of(({ own }) => own.peakRssMB)} MB at the peak`,
    `yardstick / build                     ${of(({ ratio }) => ratio).toFixed(2)}   (at least 8)`,
  ])
}

const mdx = corpusOf(300, 'mdx', true)
const compiled = compare(
  () => measure('build.mjs', mdx, 'mdx'),
  () => measure('mdx-alone.mjs', mdx),
)
print(`Cold build of ${compiled.record.files} files of MDX`, [
  `compiler alone                        ${compiled.other} ms`,
  `build                                 ${compiled.own} ms`,
  `build / compiler                      ${compiled.ratio}   (limit 1.2)`,
])
