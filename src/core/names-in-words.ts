const NAMES = new Intl.ListFormat('en-GB')

/** Names as one says them: "Tin Barn", "Tin Barn and Wide Fen", "Tin Barn, Wide Fen and Quarry Hall". */
export function namesInWords(names: readonly string[]): string {
  return NAMES.format(names)
}
