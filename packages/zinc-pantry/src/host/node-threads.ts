import { availableParallelism } from 'node:os'
import { Worker } from 'node:worker_threads'
import type { Thread, Threads } from './host.ts'

/** With fewer cores the collector of garbage and the compiler of V8 use those that are left: measured, a thread gains nothing. */
const LEAST_CORES = 4
/** Loading their code takes as long. */
const START_AFTER_MS = 250
/** More are not kept busy: what is left for this thread to do takes it as long. */
const MOST_THREADS = 4

/** The threads of a process that may use as many cores; `asked` is a number that somebody wants instead. */
export function createNodeThreads(asked: string | undefined): Threads {
  const cores = availableParallelism()
  const usual = cores < LEAST_CORES ? 0 : Math.min(MOST_THREADS, cores - 2)
  const count = asked !== undefined && /^\d+$/.test(asked) ? Number(asked) : usual
  return { count, startAfterMs: START_AFTER_MS, start: startThread }
}

/** What a thread answers: the number of the question, and the answer or that there is none. */
export type ThreadAnswer = { readonly number: number; readonly answer: unknown } | { readonly number: number }

const NO_THREAD: Thread = { isReady: false, pending: () => 0, ask: async () => undefined, end: () => undefined }

/** A worker; undefined where the process may have none. */
function openWorker(task: string, data: unknown): Worker | undefined {
  try {
    return new Worker(new URL('../bundle/thread.js', import.meta.url), { workerData: { task, data } })
  } catch {
    return undefined
  }
}

function startThread(task: string, data: unknown): Thread {
  const waiting = new Map<number, (answer: unknown) => void>()
  let count = 0
  let isDead = false
  let isReady = false
  const worker = openWorker(task, data)
  if (!worker) return NO_THREAD
  const settle = (number: number, answer: unknown): void => {
    waiting.get(number)?.(answer)
    waiting.delete(number)
    // A process does not wait for threads that have nothing to do.
    if (waiting.size === 0) worker.unref()
  }
  const ask = (question: unknown): Promise<unknown> => {
    if (isDead) return Promise.resolve(undefined)
    const number = count++
    return new Promise((resolve) => {
      waiting.set(number, resolve)
      worker.ref()
      try {
        worker.postMessage({ number, question })
      } catch {
        // What cannot be handed over is nothing for a thread.
        settle(number, undefined)
      }
    })
  }
  const die = (): void => {
    isDead = true
    for (const number of [...waiting.keys()]) settle(number, undefined)
  }
  worker.on('message', (said: ThreadAnswer) => settle(said.number, 'answer' in said ? said.answer : undefined))
  worker.on('error', die)
  worker.on('exit', die)
  // The first question is whether it is there.
  void ask(undefined).then((answer) => (isReady = answer === true))
  return {
    get isReady() {
      return isReady && !isDead
    },
    pending: () => waiting.size,
    ask,
    end() {
      die()
      void worker.terminate()
    },
  }
}
