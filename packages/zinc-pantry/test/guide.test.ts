import { execFileSync } from 'node:child_process'
import { mkdirSync, readdirSync, readFileSync, symlinkSync, writeFileSync } from 'node:fs'
import { dirname, join } from 'node:path'
import { expect, test } from 'vitest'
import { makeFolder, REPOSITORY, runCommand } from './helpers.ts'

const GUIDE = join(REPOSITORY, 'docs/guide')
const BLOCK = /^```(?<language>\w+)(?: (?<file>\S+))?\n(?<text>[\s\S]*?)^```$/gm
/** With it the guide is written anew from what its commands say. */
const IS_UPDATE = process.env.UPDATE_GUIDE === '1'

/** Times differ. */
const steady = (text: string): string => text.replace(/\(\d+\.\d\d s\)/g, '(0.00 s)')

/** Splits a line of a shell into its words. */
const wordsOf = (line: string): string[] =>
  [...line.matchAll(/'([^']*)'|"([^"]*)"|(\S+)/g)].map(([, single, double, plain]) => single ?? double ?? plain ?? '')

async function runLine(root: string, line: string): Promise<string> {
  const [program, ...words] = wordsOf(line)
  if (program === 'npx') {
    const { stdout, stderr } = await runCommand(root, words.slice(1))
    return stdout + stderr
  }
  return execFileSync(process.execPath, words, { cwd: root, encoding: 'utf8' })
}

test('The guide leads from nothing to a site: its files, its commands, and what they say', async () => {
  const root = makeFolder({
    'tsconfig.json':
      '{ "compilerOptions": { "module": "nodenext", "strict": true, "noEmit": true, "target": "es2023", "types": [] }, "include": ["*.ts"] }',
  })
  symlinkSync(join(REPOSITORY, 'node_modules'), join(root, 'node_modules'), 'dir')
  let commands = 0
  for (const page of readdirSync(GUIDE).sort()) {
    const path = join(GUIDE, page)
    const text = readFileSync(path, 'utf8')
    let said: string | undefined
    const outputs: string[] = []
    for (const { groups } of text.matchAll(BLOCK)) {
      const { language, file, text: content = '' } = groups ?? {}
      if (file) {
        mkdirSync(dirname(join(root, file)), { recursive: true })
        writeFileSync(join(root, file), content)
      } else if (language === 'sh') {
        const lines = await Promise.all(
          content
            .trim()
            .split('\n')
            .map((line) => runLine(root, line)),
        )
        said = steady(lines.join(''))
        commands++
      } else if (language === 'text') {
        if (!IS_UPDATE) expect(content, `${page}, output ${outputs.length + 1}`).toBe(said)
        outputs.push(said ?? '')
      }
    }
    if (!IS_UPDATE) continue
    writeFileSync(
      path,
      text.replace(/^```text\n[\s\S]*?^```$/gm, () => `\`\`\`text\n${outputs.shift()}\`\`\``),
    )
  }
  expect(commands).toBeGreaterThan(9)
  execFileSync(process.execPath, [join(REPOSITORY, 'node_modules/typescript/bin/tsc'), '-p', root], {
    stdio: 'inherit',
  })
}, 120_000)
