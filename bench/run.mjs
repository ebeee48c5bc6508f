#!/usr/bin/env node
/**
 * Compares our work with that of plain parts, in one run, and prints ratios of medians.
 *
 *   npm run bench [-- --files 5000] [--rounds 7] [--yardstick]
 */
import { execFileSync } from 'node:child_process'
import { existsSync } from 'node:fs'
import { join } from 'node:path'
import { fileURLToPath } from 'node:url'
import { parseArgs } from 'node:util'
import { buildPackage, installDependencies, runProgram } from '../scripts/install.mjs'

process.chdir(fileURLToPath(new URL('..', import.meta.url)))
const { values } = parseArgs({
  options: {
    files: { type: 'string', default: '5000' },
    rounds: { type: 'string', default: '7' },
    yardstick: { type: 'boolean', default: false },
  },
})
installDependencies()
buildPackage()
if (!existsSync('bench/node_modules'))
  runProgram('npm', ['ci', '--no-audit', '--no-fund', '--loglevel=error'], { cwd: 'bench' })

const cache = 'node_modules/.cache/bench'
const corpus = join(cache, `corpus-${values.files}`)
if (!existsSync(corpus)) runProgram(process.execPath, ['bench/generate-corpus.mjs', values.files, corpus])

/** Runs a script in a process of its own and gives the record on its last line. */
function measure(script, ...args) {
  const output = execFileSync(process.execPath, [join('bench', script), ...args], { encoding: 'utf8' })
  return JSON.parse(output.trim().split('\n').at(-1))
}

const median = (numbers) => numbers.toSorted((a, b) => a - b)[Math.floor(numbers.length / 2)]
const out = join(cache, 'out.json')
const rounds = Array.from({ length: Number(values.rounds) }, () => {
  const floor = measure('floor.mjs', corpus, out).ms
  const check = measure('check.mjs', corpus)
  return { floor: floor.walk + floor.read + floor.yaml + floor.zod, check: check.ms, record: check }
})
const [{ record }] = rounds
const floor = median(rounds.map((round) => round.floor))
const check = median(rounds.map((round) => round.check))
const ratio = median(rounds.map((round) => round.check / round.floor))

console.log(`Front matter of ${record.files} files, medians of ${rounds.length} rounds, process start aside`)
console.log(`  floor: walk, read, YAML, validation   ${floor} ms`)
console.log(
  `  check: the same with places and links ${check} ms   (${record.problems} problems, ${record.peakRssMB} MB at the peak)`,
)
console.log(`  check / floor                         ${ratio.toFixed(2)}   (limit 1.8)`)

if (values.yardstick) {
  const byHand = measure('yardstick.mjs', corpus, out, '--gfm')
  console.log(`  by hand with common packages, bodies rendered: ${byHand.seconds} s`)
}
