import { exitCodes, type Surroundings } from './surroundings.ts'

/** Says what is wrong with the use of a command. Gives the exit code for that. */
export function refuse({ stderr }: Surroundings, words: string, help?: string): number {
  stderr.write(`error ${words}\n${help === undefined ? '' : `  help: ${help}\n`}`)
  return exitCodes.wrongUse
}
