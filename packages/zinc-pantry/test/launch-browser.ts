import { type Browser, chromium } from 'playwright-core'
import { findChromium } from '../../../scripts/chromium.mjs'

const QUIET = [
  '--no-sandbox',
  '--disable-gpu',
  '--disable-quic',
  '--no-first-run',
  '--disable-background-networking',
  '--disable-component-update',
  '--disable-sync',
  '--disable-dev-shm-usage',
]

/** Opens the Chromium of the machine. */
export async function launchBrowser(...more: readonly string[]): Promise<Browser> {
  const executablePath = findChromium()
  if (!executablePath) throw new Error('No Chromium was found: install one, or name it in CHROMIUM_PATH')
  return chromium.launch({ executablePath, args: [...QUIET, ...more] })
}
