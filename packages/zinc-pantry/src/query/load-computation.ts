import { coordinateNames, foldText, parseStep } from '../values/computed-steps.ts'

/** Makes what computes a step of values; undefined for a step that computes nothing. Few queries compute, so that is loaded for those. */
export async function loadComputation(step: string | undefined): Promise<((value: unknown) => unknown) | undefined> {
  const parsed = step === undefined ? undefined : parseStep(step)
  if (!parsed) return undefined
  const { compileStep } = await import('../values/compute-step.ts')
  return compileStep(parsed, { coordinateNames, foldText })
}
