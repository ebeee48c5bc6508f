import { cpSync, mkdirSync, mkdtempSync, readdirSync, readFileSync, symlinkSync, writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { dirname, join } from 'node:path'
import { fileURLToPath } from 'node:url'
import { expect } from 'vitest'
import { createMemoryHost, createNodeHost, openContent, renderText, type SiteReport } from 'zinc-pantry/engine'
import { run } from '../dist/bundle/cli.js'
import type { Surroundings } from '../dist/cli/surroundings.js'

/** The folder of the fixtures. */
export const FIXTURES = fileURLToPath(new URL('fixtures/', import.meta.url))
/** The folder of the repository. */
export const REPOSITORY = fileURLToPath(new URL('../../../', import.meta.url))

/** The head of a picture of 1 by 2 pixels. */
export const PNG = Uint8Array.from([
  ...[0x89, 0x50, 0x4e, 0x47, 0x0d, 0x0a, 0x1a, 0x0a, 0, 0, 0, 13, 0x49, 0x48, 0x44, 0x52],
  ...[0, 0, 0, 1, 0, 0, 0, 2, 8, 6, 0, 0, 0],
])

/** How often a property runs: a few times in every test run, many times with PANTRY_THOROUGH set. */
export const runs = (few: number, many: number): number => (process.env.PANTRY_THOROUGH ? many : few)

/** Of so many cases what chance does is no longer seen. */
const ENOUGH_CASES = 40

/**
 * More than a share of the cases of a property went the way that is meant. It is asked of enough cases only: a slow machine
 * tries few, and of few there may be none.
 */
export function expectShare(count: number, tried: number, share: number): void {
  if (tried >= ENOUGH_CASES) expect(count / tried).toBeGreaterThan(share)
}

/** The same numbers every time. */
export function createRandom(): (below: number) => number {
  let state = 7
  return (below) => {
    state = (Math.imul(state, 1103515245) + 12345) >>> 0
    return Math.floor((state / 2 ** 32) * below)
  }
}

/** Makes a folder with the given files; `from` is copied into it first. */
export function makeFolder(files: Readonly<Record<string, string | Uint8Array>>, from?: string): string {
  const folder = mkdtempSync(join(tmpdir(), 'pantry-test-'))
  if (from) cpSync(from, folder, { recursive: true, filter: (path) => !/\/(generated|node_modules)$/.test(path) })
  for (const [path, content] of Object.entries(files)) {
    makeFile(folder, path, content)
  }
  return folder
}

/** Writes a file into a folder. */
export function makeFile(folder: string, path: string, content: string | Uint8Array): void {
  mkdirSync(dirname(join(folder, path)), { recursive: true })
  writeFileSync(join(folder, path), content)
}

/** Lets the files of a folder import what the repository has. */
export const linkPackages = (folder: string): void =>
  symlinkSync(join(REPOSITORY, 'node_modules'), join(folder, 'node_modules'))

/** All files of a folder by their paths, byte by byte, but for what is kept and what is installed. */
export const readFolder = (folder: string): Readonly<Record<string, string>> =>
  Object.fromEntries(
    readdirSync(folder, { recursive: true, withFileTypes: true })
      .filter((one) => one.isFile() && !/\.pantry|node_modules/.test(one.parentPath))
      .map((one) => join(one.parentPath, one.name))
      .map((path) => [path.slice(folder.length + 1), readFileSync(path, 'latin1')]),
  )

export interface CommandResult {
  readonly code: number
  readonly stdout: string
  readonly stderr: string
}

/** Runs the command in a folder, as the executable does. */
export async function runCommand(
  folder: string,
  args: readonly string[],
  env = {},
  {
    stopped = async () => undefined,
    onOutput,
    ask,
  }: { stopped?(): Promise<void>; onOutput?(text: string): void; ask?: Surroundings['ask'] } = {},
): Promise<CommandResult> {
  let stdout = ''
  let stderr = ''
  const code = await run(args, {
    stdout: {
      write(text) {
        onOutput?.(text)
        stdout += text
      },
    },
    stderr: { write: (text) => (stderr += text) },
    env,
    folder,
    stopped,
    ask,
    openHost: createNodeHost,
  })
  return { code, stdout, stderr }
}

/** The text form of what a run found. */
export const textOf = (report: SiteReport): string => renderText(report.diagnostics, report.textOf)

/** Opens content in memory; the files are relative to the content folder. */
export async function openFiles(files: Readonly<Record<string, string | Uint8Array>>, configuration: unknown) {
  const below = Object.fromEntries(Object.entries(files).map(([path, content]) => [`content/${path}`, content]))
  const host = createMemoryHost(below, configuration)
  return openContent({ host, configurationFile: 'pantry.config.ts' })
}
