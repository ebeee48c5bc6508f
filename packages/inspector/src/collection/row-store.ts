import type { CallAnswer, CallRefusal, RowsQuestion } from 'zinc-pantry/inspect'
import { call, isRefusal } from '../site/calls.ts'
import { wordsOf } from '../site/use-call.ts'

type Problem = Extract<CallAnswer<'rows'>, { readonly problem: unknown }>['problem']

/** The rows of an answer, as far as they are here. */
export interface RowsState {
  readonly total: number | undefined
  readonly problem: Problem | CallRefusal | undefined
  readonly milliseconds: number
  /** Grows whenever more rows are here. */
  readonly version: number
}

/** Rows that are asked for at once: what is looked at first, then all others behind each other. */
const FIRST = 100
const BLOCK = 2_000

/** The rows of the answer to a question: those that are looked at come first, and the others while nobody waits. */
export class RowStore {
  readonly #question: RowsQuestion
  readonly #onChange: () => void
  readonly #blocks = new Map<number, readonly (readonly unknown[])[]>()
  readonly #asked = new Map<number, AbortController>()
  #first: readonly (readonly unknown[])[] = []
  #isClosed = false
  state: RowsState = { total: undefined, problem: undefined, milliseconds: 0, version: 0 }

  constructor(question: RowsQuestion, onChange: () => void) {
    this.#question = question
    this.#onChange = onChange
    void this.#start()
  }

  /** A row; undefined where it is not here yet. */
  row(at: number): readonly unknown[] | undefined {
    return this.#blocks.get(Math.floor(at / BLOCK))?.[at % BLOCK] ?? this.#first[at]
  }

  /** Has the rows of a range come first. */
  want(from: number, to: number): void {
    if (this.state.total === undefined) return
    for (let block = Math.floor(from / BLOCK); block <= Math.floor(Math.min(to, this.state.total - 1) / BLOCK); block++)
      void this.#load(block)
  }

  close(): void {
    this.#isClosed = true
    for (const controller of this.#asked.values()) controller.abort()
  }

  async #start(): Promise<void> {
    const answer = await this.#ask(0, FIRST)
    if (!answer) return
    this.#first = answer.rows
    this.#set({ total: answer.total, milliseconds: answer.milliseconds })
    for (let block = 0; block * BLOCK < answer.total && !this.#isClosed; block++)
      if (answer.total > FIRST) await this.#load(block)
  }

  async #load(block: number): Promise<void> {
    if (this.#blocks.has(block) || this.#asked.has(block)) return
    const controller = new AbortController()
    this.#asked.set(block, controller)
    const answer = await this.#ask(block * BLOCK, BLOCK, controller.signal)
    this.#asked.delete(block)
    if (!answer) return
    this.#blocks.set(block, answer.rows)
    this.#set({})
  }

  async #ask(offset: number, limit: number, signal?: AbortSignal) {
    try {
      const answer = await call('rows', { ...this.#question, offset, limit }, signal)
      if (this.#isClosed) return undefined
      if (!isRefusal(answer) && !('problem' in answer)) return answer
      this.#set({ problem: isRefusal(answer) ? answer : answer.problem })
    } catch (error) {
      if (!this.#isClosed) this.#set({ problem: { refused: wordsOf(error) } })
    }
    return undefined
  }

  #set(changes: Partial<RowsState>): void {
    if (this.#isClosed) return
    this.state = { ...this.state, ...changes, version: this.state.version + 1 }
    this.#onChange()
  }
}
