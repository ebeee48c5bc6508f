/** Kinds of files by the bytes they start with; `.` stands for any byte. */
const SIGNATURES: readonly (readonly [kind: string, signature: string])[] = [
  ['png', '89504e470d0a1a0a'],
  ['jpeg', 'ffd8ff'],
  ['gif', '474946383761'],
  ['gif', '474946383961'],
  ['webp', '52494646........57454250'],
  ['avif', '........6674797061766966'],
  ['avif', '........6674797061766973'],
  ['mp4', '........66747970'],
  ['pdf', '255044462d'],
  ['zip', '504b0304'],
  ['gz', '1f8b08'],
  ['mp3', '494433'],
  ['ogg', '4f676753'],
  ['wav', '52494646........57415645'],
  ['woff2', '774f4632'],
]

/** Files of other kinds that are, by their bytes, of a kind of the list. */
const CONTAINERS: Readonly<Record<string, readonly string[]>> = {
  zip: ['docx', 'xlsx', 'pptx', 'odt', 'ods', 'epub', 'kmz', 'jar'],
  mp4: ['m4a', 'm4v', 'mov', 'heic'],
  gz: ['tgz'],
}

/** The kind of a file by its bytes, or undefined where they show none. `name` tells the members of a family apart. */
export function sniffKind(bytes: Uint8Array, name: string): string | undefined {
  const start = [...bytes.subarray(0, 16)].map((byte) => byte.toString(16).padStart(2, '0')).join('')
  const found = SIGNATURES.find(([, signature]) => matches(start, signature))?.[0]
  if (found === undefined) return isSvg(bytes) ? 'svg' : undefined
  const ending = name.slice(name.lastIndexOf('.') + 1).toLowerCase()
  return CONTAINERS[found]?.includes(ending) ? ending : found
}

function matches(start: string, signature: string): boolean {
  if (start.length < signature.length) return false
  for (let at = 0; at < signature.length; at++) if (signature[at] !== '.' && signature[at] !== start[at]) return false
  return true
}

function isSvg(bytes: Uint8Array): boolean {
  const text = new TextDecoder().decode(bytes.subarray(0, 1024))
  return /^\s*(?:<\?xml[^>]*>\s*)?(?:<!--(?:[^-]|-(?!->))*-->\s*|<!DOCTYPE[^>]*>\s*)*<svg[\s>]/.test(text)
}
