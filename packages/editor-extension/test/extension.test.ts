import { spawnSync } from 'node:child_process'
import { mkdtempSync, readFileSync } from 'node:fs'
import { isBuiltin } from 'node:module'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { fileURLToPath } from 'node:url'
import { strFromU8, unzipSync } from 'fflate'
import { describe, expect, test } from 'vitest'

const REPOSITORY = fileURLToPath(new URL('../../../', import.meta.url))

describe('The extension for editors', () => {
  const target = join(mkdtempSync(join(tmpdir(), 'pantry-extension-')), 'editor.vsix')
  const packed = spawnSync(process.execPath, [join(REPOSITORY, 'packages/editor-extension/pack.mjs'), target], {
    encoding: 'utf8',
  })
  const files = packed.status === 0 ? unzipSync(readFileSync(target)) : {}
  const read = (name: string): string => strFromU8(files[name] ?? new Uint8Array())

  test('is packed to one file, with a manifest that names what is in it', () => {
    expect([packed.stderr, packed.status]).toEqual(['', 0])
    const description = JSON.parse(read('extension/package.json'))
    const manifest = read('extension.vsixmanifest')
    for (const [, path = ''] of manifest.matchAll(/Path="([^"]*)"/g)) expect(Object.keys(files)).toContain(path)
    expect(Object.keys(files)).toContain(join('extension', description.main))
    expect(manifest).toContain(
      `Id="${description.name}" Version="${description.version}" Publisher="${description.publisher}"`,
    )
    expect(manifest).toContain(`Id="Microsoft.VisualStudio.Code.Engine" Value="${description.engines.vscode}"`)
    const endings = Object.keys(files)
      .filter((name) => name !== '[Content_Types].xml')
      .map((name) => name.slice(name.lastIndexOf('.')))
    for (const ending of new Set(endings)) expect(read('[Content_Types].xml')).toContain(`Extension="${ending}"`)
  })

  test('asks for no older an editor than its client does, and its settings and commands are those that it reads', () => {
    const { engines, contributes } = JSON.parse(read('extension/package.json'))
    const client = JSON.parse(readFileSync(join(REPOSITORY, 'node_modules/vscode-languageclient/package.json'), 'utf8'))
    expect(engines.vscode).toBe(client.engines.vscode)
    const source = readFileSync(join(REPOSITORY, 'packages/editor-extension/src/extension.ts'), 'utf8')
    for (const { command } of contributes.commands) expect(source).toContain(`'${command}'`)
    expect(source).toContain("getConfiguration('zincPantry')")
    expect(Object.keys(contributes.configuration.properties)).toContain('zincPantry.command')
    for (const { id } of contributes.languages) expect(source).toContain(`'${id}'`)
  })

  test('is one module that needs the editor and Node only', () => {
    const code = read('extension/dist/extension.cjs')
    expect(spawnSync(process.execPath, ['--check', '-'], { input: code }).status).toBe(0)
    const needed = new Set([...code.matchAll(/\brequire\((["'`])([^"'`]+)\1\)/g)].map(([, , name = '']) => name))
    expect([...needed].filter((name) => !isBuiltin(name))).toEqual(['vscode'])
    expect(code).toContain('activate')
  })
})
