import { createDiagnostic, type Diagnostic } from '../diagnostics/diagnostic.ts'
import { type Host, HostError } from '../host/host.ts'
import { decodeText, describeTooLarge, MAX_FILE_BYTES } from '../read/decode.ts'
import type { SourceText } from '../read/document.ts'

/** Reads a file of the content folder, or says why it cannot be read. Its bytes can be given, where they are there. */
export type FileReader = (
  path: string,
  bytes?: Uint8Array,
) => (SourceText & { readonly bytes: Uint8Array }) | { readonly file: string; readonly diagnostic: Diagnostic }

/** Longer texts are read once more where a problem in them is shown. */
const MOST_KEPT = 2 ** 18

/** Makes a reader that keeps the texts it has read, for showing diagnostics. */
export function createFileReader(
  { host, content }: { host: Host; content: string },
  texts: Map<string, string>,
  onRead: () => void,
): FileReader {
  return (path, given) => {
    onRead()
    const file = `${content}/${path}`
    const size = given ? 0 : (host.size(file) ?? 0)
    if (size > MAX_FILE_BYTES) {
      // What is too large to read is too large to show.
      texts.set(file, '')
      return { file, diagnostic: describeTooLarge(file, size) }
    }
    try {
      const bytes = given ?? host.read(file)
      const decoded = decodeText(file, bytes)
      if ('text' in decoded) {
        if (decoded.text.length <= MOST_KEPT) texts.set(file, decoded.text)
      } else if (decoded.diagnostic.code === 'file-too-large') texts.set(file, '')
      return { file, bytes, ...decoded }
    } catch (error) {
      if (!(error instanceof HostError)) throw error
      const diagnostic = createDiagnostic('file-unreadable', { file, span: [0, 0] }, { reason: error.message })
      return { file, diagnostic }
    }
  }
}
