import { execFileSync } from 'node:child_process'
import { existsSync } from 'node:fs'

const PLACES = [
  '/usr/bin/chromium',
  '/usr/bin/chromium-browser',
  '/usr/bin/google-chrome',
  '/Applications/Chromium.app/Contents/MacOS/Chromium',
  '/Applications/Google Chrome.app/Contents/MacOS/Google Chrome',
  'C:\\Program Files\\Google\\Chrome\\Application\\chrome.exe',
]

/** The path of a Chromium, or undefined where there is none. */
export function findChromium() {
  const given = process.env.CHROMIUM_PATH
  return [...(given ? [given] : []), ...PLACES].find((path) => existsSync(path))
}

/**
 * Installs packages of Debian, where this may be done; false where it may not, or fails.
 *
 * @param {...string} packages
 */
export function installDebian(...packages) {
  if (process.getuid?.() !== 0 || !existsSync('/usr/bin/apt-get')) return false
  const apt = (/** @type {string[]} */ ...args) =>
    execFileSync('apt-get', ['-qq', ...args], {
      stdio: ['ignore', 'ignore', 'inherit'],
      env: { ...process.env, DEBIAN_FRONTEND: 'noninteractive' },
    })
  try {
    apt('update')
    apt('install', '-y', '--no-install-recommends', ...packages)
    return true
  } catch {
    console.error(`apt-get could not install ${packages.join(', ')}`)
    return false
  }
}

/** Finds a Chromium, or installs Debian's where this may be done; gives its path or undefined. */
export function provideChromium() {
  const found = findChromium()
  if (found) return found
  console.log('Installing Chromium for the browser tests')
  installDebian('chromium')
  return findChromium()
}
