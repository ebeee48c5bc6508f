import picomatch from 'picomatch'

/**
 * Makes the test of the names of files and folders that are visited: those that start with a dot only where one of some
 * patterns of such names allows it, and what others keep for themselves never.
 */
export function createNameTest(dotNames: readonly string[] = []): (name: string) => boolean {
  const matches = dotNames.length === 0 ? () => false : picomatch([...dotNames])
  return (name) => (name.startsWith('.') ? !OF_OTHERS.includes(name) && matches(name) : name !== 'node_modules')
}

const OF_OTHERS = ['.git', '.pantry']
