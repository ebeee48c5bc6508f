declare module 'launch-editor' {
  /** Opens a file, as `path:line:column`; is told where that failed. */
  export default function launch(
    file: string,
    editor?: string,
    onError?: (file: string, message: string | null) => void,
  ): void
}
