import { HostError } from './host.ts'

/**
 * Waits for something, but only so long. Without an end nothing would keep the process alive, and it would end in
 * silence.
 */
export async function withinLimit<Result>(timeLimitMs: number, work: () => Promise<Result>): Promise<Result> {
  let timer: NodeJS.Timeout | undefined
  const limit = new Promise<never>((_, reject) => {
    // Formatted when it is told: the first number takes the engine 20 ms.
    const reason = (): string => `it did not come to an end within ${(timeLimitMs / 1000).toLocaleString('en-US')} s`
    timer = setTimeout(() => reject(new HostError(reason())), timeLimitMs)
  })
  try {
    return await Promise.race([work(), limit])
  } finally {
    clearTimeout(timer)
  }
}
