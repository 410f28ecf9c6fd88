/** A file that is handed out, a piece at a time. */
export interface ExportedFile {
  readonly mime: string
  readonly fileName: string
  readonly pieces: AsyncIterable<string>
}
