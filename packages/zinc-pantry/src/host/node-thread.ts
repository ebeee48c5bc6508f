import { parentPort, workerData } from 'node:worker_threads'
import type { Task } from './host.ts'
import { loadColouring } from './node-colouring.ts'
import type { ThreadAnswer } from './node-threads.ts'

/** What a thread is started with: the name of the module that makes its task, and what that is given. */
const { task, data } = workerData as { readonly task: string; readonly data: unknown }

const { makeTask } = (await import(new URL(`./${task}.js`, import.meta.url).href)) as {
  makeTask(data: unknown, services: { readonly colouring: typeof loadColouring }): Promise<Task>
}
const answer = await makeTask(data, { colouring: loadColouring })

parentPort?.on('message', async ({ number, question }: { readonly number: number; readonly question: unknown }) => {
  const said: ThreadAnswer = await (question === undefined ? Promise.resolve(true) : answer(question)).then(
    (one) => ({ number, answer: one }),
    // Whoever asked does it for himself, and finds the same.
    () => ({ number }),
  )
  parentPort?.postMessage(said)
})
