/** The path that another means when it stands in a file; undefined where it leads out of the folder of all. */
export function resolveFrom(from: string, path: string): string | undefined {
  const steps = from.split('/').slice(0, -1)
  for (const step of path.split('/')) {
    if (step === '' || step === '.') continue
    if (step !== '..') steps.push(step)
    else if (steps.pop() === undefined) return undefined
  }
  return steps.join('/')
}
