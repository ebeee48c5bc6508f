import { randomUUID } from 'node:crypto'
import { mkdirSync, readdirSync, rmSync, writeFileSync } from 'node:fs'
import { join } from 'node:path'
import type { FolderLock } from './host.ts'

const MARK = /^\.(\d+)-[\da-f]+\.building$/

/**
 * Marks a folder as being written, by a hidden file with the number of the process in its name. The mark of a process
 * that was killed is taken away by the next one that looks.
 */
export function lockFolder(folder: string): FolderLock {
  const own = `.${process.pid}-${randomUUID().slice(0, 8)}.building`
  mkdirSync(folder, { recursive: true })
  writeFileSync(join(folder, own), '')
  return {
    isShared: () =>
      readdirSync(folder).some((name) => {
        const pid = MARK.exec(name)?.[1]
        if (pid === undefined || name === own) return false
        if (isRunning(Number(pid))) return true
        rmSync(join(folder, name), { force: true })
        return false
      }),
    end: () => rmSync(join(folder, own), { force: true }),
  }
}

function isRunning(pid: number): boolean {
  try {
    process.kill(pid, 0)
    return true
  } catch (error) {
    // A process of another user may not be asked, but is there.
    return (error as { readonly code?: string }).code === 'EPERM'
  }
}
