import { type Command, Option } from 'commander'
import type { Surroundings } from './surroundings.ts'

/** The program that commands are added to, and what they work with. */
export interface Setup {
  readonly program: Command
  readonly surroundings: Surroundings
  setCode(code: number): void
}

export const root = () => new Option('--root <dir>', 'folder of the configuration (default: found upward)')
export const drafts = () => new Option('--drafts', 'with what is a draft, not yet or no longer seen')
export const formats = (help: string, choices: string[]) =>
  new Option('--format <format>', help).choices(choices).default(choices[0])
