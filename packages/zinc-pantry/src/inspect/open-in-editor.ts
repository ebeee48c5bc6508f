/**
 * Opens a file in the editor that runs, or else in the one that the variables `LAUNCH_EDITOR`, `VISUAL` or `EDITOR` name. Gives why it
 * could not, in words for people.
 */
export async function openInEditor(
  path: string,
  line: number,
): Promise<{ readonly opened: string } | { readonly refused: string }> {
  const { default: launch } = await import('launch-editor')
  const refused = 'No editor could be opened: name one in the variable VISUAL'
  return new Promise((resolve) => {
    launch(`${path}:${line}:1`, undefined, () => resolve({ refused }))
    // It says nothing where all goes well.
    setTimeout(() => resolve({ opened: path }), OPENING_MS)
  })
}

const OPENING_MS = 600
