import { readFileSync } from 'node:fs'
import { createRequire } from 'node:module'
import { join } from 'node:path'
import type { Browser, Page } from 'playwright-core'
import { createNodeHost } from 'zinc-pantry/engine'
import { type Inspector, startInspector } from 'zinc-pantry/inspect'
import { linkPackages, makeFolder, REPOSITORY } from '../../zinc-pantry/test/helpers.ts'

const axe = readFileSync(createRequire(import.meta.url).resolve('axe-core/axe.min.js'), 'utf8')

/** A site with an inspector, in a folder of its own. */
export interface InspectedFolder {
  readonly root: string
  readonly inspector: Inspector
  /** The address without the token. */
  readonly base: string
  /** Opens the page, with the token, at one of its addresses. */
  open(browser: Browser, path?: string, settings?: object): Promise<OpenedPage>
  file(path: string): string
}

/** A page, and what went wrong in it. */
export interface OpenedPage {
  readonly page: Page
  readonly problems: string[]
  go(path: string): Promise<void>
}

/** Starts an inspector of some files, or of a copy of the demo. */
export async function openFolder(
  files: Readonly<Record<string, string | Uint8Array>> = {},
  isDemo = true,
): Promise<InspectedFolder> {
  const root = makeFolder(files, isDemo ? join(REPOSITORY, 'examples/fellmark') : undefined)
  linkPackages(root)
  const inspector = await startInspector({
    ...{ host: createNodeHost(root), configurationFile: 'pantry.config.ts', name: 'fellmark', port: 0 },
  })
  const [base = ''] = inspector.address.split('/#')
  return {
    ...{ root, inspector, base },
    file: (path) => readFileSync(join(root, path), 'utf8'),
    async open(browser, path = '/', settings = {}) {
      const page = await browser.newPage({ viewport: { width: 1280, height: 900 }, ...settings })
      const problems: string[] = []
      page.on('pageerror', (error) => problems.push(error.message))
      page.on('console', (message) => {
        if (message.type() === 'error' || message.type() === 'warning') problems.push(message.text())
      })
      page.on('request', (request) => {
        if (!/^(?:http:\/\/127\.0\.0\.1|data:|blob:|about:)/.test(request.url()))
          problems.push(`asked ${request.url()}`)
      })
      await page.goto(inspector.address)
      await page.waitForSelector('main h1')
      const go = async (to: string): Promise<void> => {
        await page.goto(base + to)
        await page.waitForSelector('main h1')
      }
      if (path !== '/') await go(path)
      return { page, problems, go }
    },
  }
}

/** What an audit of accessibility finds on a page, or in a part of it. */
export async function audit(page: Page, part = 'body'): Promise<string[]> {
  await page.evaluate(axe)
  const { violations } = (await page.evaluate(`axe.run('${part}')`)) as {
    violations: { id: string; nodes: { html: string; failureSummary: string }[] }[]
  }
  return violations.map(
    ({ id, nodes }) =>
      `${id} (${nodes.length}): ${nodes[0]?.html.slice(0, 200)} ${nodes[0]?.failureSummary.slice(0, 200)}`,
  )
}
