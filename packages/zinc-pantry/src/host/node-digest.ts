import { hash } from 'node:crypto'

/** A digest as {@link Host.digest} gives it. */
export const digestContent = (content: string | Uint8Array): string => hash('sha256', content, 'hex').slice(0, 32)
