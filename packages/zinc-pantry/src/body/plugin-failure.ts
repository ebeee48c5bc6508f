/** The error of a plugin, with its name and the offset in the body where it failed, if it says. */
export class PluginFailure extends Error {
  readonly plugin: string
  /** The line of the body, from 0, where it says. */
  readonly line: number | undefined
  readonly span: readonly [start: number, end: number] | undefined
  constructor(plugin: string, reason: unknown, span?: readonly [number, number], line?: number) {
    super(reason instanceof Error ? reason.message : String(reason), { cause: reason })
    this.plugin = plugin
    this.span = span
    this.line = line
  }
}
