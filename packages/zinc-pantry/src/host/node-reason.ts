import { HostError } from './host.ts'

const REASONS: Readonly<Record<string, string>> = {
  ENOENT: 'it does not exist',
  EACCES: 'access is not permitted',
  EPERM: 'access is not permitted',
  EISDIR: 'it is a folder',
  ENOSPC: 'the disk is full',
  EROFS: 'the disk is read-only',
  ENOTDIR: 'a folder in its path is a file',
  ENAMETOOLONG: 'its name is too long',
  ENXIO: 'it is no file',
}

/** Why something failed, in words for a person. */
export const reasonOf = (error: unknown): string => {
  const code = error instanceof Error && 'code' in error ? String(error.code) : ''
  return REASONS[code] ?? (code || String(error))
}

/** Does something; what it throws is explained to a person. */
export function explained<Result>(action: () => Result): Result {
  try {
    return action()
  } catch (error) {
    if (error instanceof HostError) throw error
    throw new HostError(reasonOf(error))
  }
}
