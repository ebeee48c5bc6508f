import { readdirSync } from 'node:fs'
import { join } from 'node:path'
import { describe, expect, test } from 'vitest'
import { checkSite, createNodeHost } from 'zinc-pantry/engine'
import { FIXTURES, textOf } from './helpers.ts'

describe('Problems of content read as agreed', () => {
  const folder = join(FIXTURES, 'golden')
  test.each(readdirSync(folder))('%s', async (name) => {
    const report = await checkSite({
      host: createNodeHost(join(folder, name)),
      configurationFile: 'pantry.config.ts',
      unused: name === 'bodies',
    })
    await expect(textOf(report)).toMatchFileSnapshot(join(folder, name, 'expected.txt'))
  })
})
