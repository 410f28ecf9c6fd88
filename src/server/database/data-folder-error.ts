/** A data folder that cannot be worked on. The message says what it is and what to do. */
export class DataFolderError extends Error {
  override readonly name = 'DataFolderError'
  constructor(
    readonly code: 'in-use' | 'newer' | 'damaged' | 'no-database',
    message: string,
    options?: ErrorOptions,
  ) {
    super(message, options)
  }
}
