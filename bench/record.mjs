/** Prints what a run took, as the last line of a script. */
export function printRecord({ fileCount, entryCount, diagnostics, milliseconds }) {
  const { user, system } = process.cpuUsage()
  const record = {
    files: fileCount,
    entries: entryCount,
    problems: diagnostics.length,
    ms: Math.round(milliseconds),
    cpuSeconds: Number(((user + system) / 1e6).toFixed(2)),
    peakRssMB: Math.round(process.resourceUsage().maxRSS / 1024),
  }
  console.log(JSON.stringify(record))
}

/** The middle one of some numbers. */
export const median = (numbers) => numbers.toSorted((a, b) => a - b)[Math.floor(numbers.length / 2)]
