import { mkdirSync, readFileSync, renameSync, writeFileSync } from 'node:fs'
import { dirname, join } from 'node:path'
import { digestContent } from './node-digest.ts'

/** A configuration with all that it imports, as one module. */
export interface Bundle {
  /** Digests of the files in it, by their paths relative to the root. */
  readonly inputs: Readonly<Record<string, string>>
  /** Digests of the descriptions of the packages that it imports, by what it imports. */
  readonly packages: Readonly<Record<string, string>>
  readonly code: string
  readonly map: string
}

/** A bundle that is kept from run to run. */
export interface KeptBundle {
  /** The bundle, where every file in it is as it was. */
  read(): Bundle | undefined
  write(bundle: Bundle): void
}

/** The inputs of a bundle beside the files in it. */
const SURROUNDINGS = ['tsconfig.json', 'package.json', 'package-lock.json', 'pnpm-lock.yaml', 'yarn.lock']

/**
 * Keeps the bundle of a configuration below a folder. Its code names files of this machine, so it is of use here only.
 */
export function openKeptBundle(
  root: string,
  file: string,
  { folder, version }: { readonly folder: string; readonly version: string },
): KeptBundle {
  const surroundings = (): string[] => SURROUNDINGS.map((name) => digestFile(join(root, name)) ?? '')
  const scope = [version, process.version, root, file]
  const path = join(root, folder, `configuration-${digestContent(JSON.stringify(scope))}.json`)
  return {
    read() {
      try {
        const text = readFileSync(path, 'utf8')
        const end = text.indexOf('\n')
        if (text.slice(0, end) !== digestContent(text.slice(end + 1))) return undefined
        const kept = JSON.parse(text.slice(end + 1)) as { readonly around: string[]; readonly bundle: Bundle }
        const isSame = ([input, digest]: [string, string]): boolean => digestFile(join(root, input)) === digest
        return kept.around.join() === surroundings().join() && Object.entries(kept.bundle.inputs).every(isSame)
          ? kept.bundle
          : undefined
      } catch {
        return undefined
      }
    },
    write(bundle) {
      const text = JSON.stringify({ around: surroundings(), bundle })
      try {
        mkdirSync(dirname(path), { recursive: true })
        const temporary = `${path}.${process.pid}.tmp`
        writeFileSync(temporary, `${digestContent(text)}\n${text}`)
        renameSync(temporary, path)
      } catch {
        // What cannot be kept is made anew.
      }
    },
  }
}

/** The digest of a file, or undefined where it cannot be read. */
export function digestFile(path: string): string | undefined {
  try {
    return digestContent(readFileSync(path))
  } catch {
    return undefined
  }
}
