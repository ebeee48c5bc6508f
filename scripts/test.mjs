/** Runs every check of the repository and ends with one line: N passed, N failed. */
import { spawn, spawnSync } from 'node:child_process'
import { existsSync, mkdtempSync, readFileSync, rmSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { fileURLToPath } from 'node:url'
import { installDebian, provideChromium } from './chromium.mjs'
import { installDependencies } from './install.mjs'

process.chdir(fileURLToPath(new URL('..', import.meta.url)))
installDependencies()

const tool = (path, ...args) => [`node_modules/${path}`, ...args]
/** What the others need, one after another. */
const builds = {
  'Build and type check': ['scripts/build.mjs'],
  'Build of the demo': ['packages/zinc-pantry/bin/zinc-pantry.js', 'build', '--root', 'examples/fellmark'],
  'Notes of the hut finder': ['examples/hut-finder/generate.mjs'],
  'Build of the hut finder': ['packages/zinc-pantry/bin/zinc-pantry.js', 'build', '--root', 'examples/hut-finder'],
}
/** What goes side by side. */
const checks = {
  'Types of the tests': tool('typescript/bin/tsc', '-p', 'packages/zinc-pantry/test'),
  'Types of the inspector': tool('typescript/bin/tsc', '-p', 'packages/inspector'),
  'Types of the extension': tool('typescript/bin/tsc', '-p', 'packages/editor-extension'),
  'Types of the examples': tool('typescript/bin/tsc', '-p', 'examples'),
  'Types of the hut finder': tool('typescript/bin/tsc', '-p', 'examples/hut-finder'),
  'Types of the trail guide': tool('typescript/bin/tsc', '-p', 'examples/trail-guide'),
  'Code in documents': ['scripts/check-documents.mjs'],
  'Reference from docstrings': ['scripts/reference.mjs', '--check'],
  'Format and lint': tool('@biomejs/biome/bin/biome', 'check', '--error-on-warnings', '.'),
  'Direction of imports': ['scripts/check-imports.mjs'],
  'Time of patterns': ['scripts/check-patterns.mjs'],
  'Unused code': tool('knip/bin/knip.js'),
}
/** So many of them at once. */
const LANES = 2

/** Where Debian puts the public TOML suite. */
const TOML_SUITE = '/usr/share/gocode/src/github.com/BurntSushi/toml/internal/toml-test/tests'

let passed = 0
let failed = 0
const count = (status) => (status === 0 ? passed++ : failed++)
for (const [name, args] of Object.entries(builds)) {
  console.log(`\n${name}`)
  count(spawnSync(process.execPath, args, { stdio: 'inherit' }).status)
}

/** Runs a check, and shows what it says once it has ended. */
const runCheck = (name, args) =>
  new Promise((resolve) => {
    const child = spawn(process.execPath, args)
    let said = ''
    for (const stream of [child.stdout, child.stderr]) stream.on('data', (text) => (said += text))
    child.on('close', (status) => {
      console.log(`\n${name}\n${said}`.trimEnd())
      resolve(count(status))
    })
  })
const waiting = Object.entries(checks)
await Promise.all(
  Array.from({ length: LANES }, async () => {
    for (let next = waiting.shift(); next; next = waiting.shift()) await runCheck(...next)
  }),
)

const chromium = provideChromium()
if (!chromium)
  console.error('\nBrowser tests will fail: no Chromium was found. Install one, or name it in CHROMIUM_PATH.')

if (!existsSync(TOML_SUITE)) installDebian('golang-github-burntsushi-toml-dev')
if (!existsSync(TOML_SUITE)) console.error('\nThe public TOML suite is not there and is left out.')

console.log('\nTests')
const folder = mkdtempSync(join(tmpdir(), 'pantry-results-'))
const results = join(folder, 'vitest.json')
const reporters = ['--reporter=default', '--reporter=json', `--outputFile.json=${results}`]
// With CI set, a golden file that is missing fails instead of being written.
const { status } = spawnSync(process.execPath, tool('vitest/vitest.mjs', 'run', ...reporters), {
  stdio: 'inherit',
  env: { ...process.env, CI: '1', CHROMIUM_PATH: chromium ?? '' },
})
try {
  const { numPassedTests, numFailedTests, numFailedTestSuites } = JSON.parse(readFileSync(results, 'utf8'))
  passed += numPassedTests
  failed += numFailedTests
  if (status !== 0 && numFailedTests === 0) failed += Math.max(1, numFailedTestSuites)
} catch {
  failed++
}
rmSync(folder, { recursive: true })

console.log(`\n${passed} passed, ${failed} failed`)
process.exitCode = failed === 0 ? 0 : 1
