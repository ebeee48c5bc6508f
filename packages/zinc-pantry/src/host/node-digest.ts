import { createHash } from 'node:crypto'

/** A digest as {@link Host.digest} gives it. */
export const digestContent = (content: string | Uint8Array): string =>
  createHash('sha256').update(content).digest('hex').slice(0, 32)
