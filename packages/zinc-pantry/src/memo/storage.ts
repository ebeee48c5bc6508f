/** Where records are kept. Paths are relative to a root. */
export interface Storage {
  /** The files of a folder and of those below it; undefined where there is none. */
  list(folder: string): { readonly files: readonly string[] } | undefined
  /** Throws a fault where a file cannot be read, written or removed. */
  read(file: string): Uint8Array
  write(file: string, content: string | Uint8Array): void
  remove(file: string): void
  /** Starts to write files in the meantime. */
  startWriting(): { write(file: string, content: Uint8Array): void; settled(): Promise<void> }
  /** 32 characters that tell contents apart. */
  digest(content: string): string
  /** 8 characters that tell damage. */
  checksum(content: Uint8Array, seed: string): string
  /** True for what is thrown where the machine is at fault, such as a full disk. */
  isFault(error: unknown): boolean
  /** True for the name of a file that was being written when a process was killed. */
  isLeftOver(name: string): boolean
}
