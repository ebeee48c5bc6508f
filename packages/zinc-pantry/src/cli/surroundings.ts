import type { Readable, Writable } from 'node:stream'
import type { Ask } from '../engine/change/new-planner.ts'
import type { Host } from '../engine/index.ts'

/** Where text goes: a stream of Node, or anything like one. */
export interface Output {
  write(text: string): unknown
  readonly isTTY?: boolean
  /** Characters in a line of a terminal. */
  readonly columns?: number
}

/** All that a command knows of the world. */
export interface Surroundings {
  readonly stdout: Output
  readonly stderr: Output
  readonly env: Readonly<Record<string, string | undefined>>
  /** The absolute path of the working folder. */
  readonly folder: string
  /** There when the user wants what runs on and on to end. */
  stopped(): Promise<void>
  /** Asks the person at the terminal; undefined where there is none. */
  readonly ask?: Ask | undefined
  /** The streams on which a program, such as an editor, is answered; undefined where there is none. */
  readonly streams?: { readonly input: Readable; readonly output: Writable } | undefined
  /** Opens the files below a folder. */
  openHost(folder: string): Host
}

/** Exit codes of every command. */
export const exitCodes = {
  clean: 0,
  /** The content has errors. */
  contentProblems: 1,
  /** The command or the configuration is wrong. */
  wrongUse: 2,
} as const
