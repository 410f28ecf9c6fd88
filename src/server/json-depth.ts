/** Whether JSON is nested deeper than `max`: read by its brackets alone, before it is parsed. Time grows with its length. */
export function isNestedDeeper(json: string, max: number): boolean {
  let depth = 0
  for (let at = 0; at < json.length; at++) {
    const sign = json.charCodeAt(at)
    if (sign === QUOTE) {
      at = endOfString(json, at)
    } else if (sign === OPEN_BRACE || sign === OPEN_BRACKET) {
      if (++depth > max) return true
    } else if (sign === CLOSE_BRACE || sign === CLOSE_BRACKET) depth--
  }
  return false
}

const QUOTE = 34
const BACKSLASH = 92
const [OPEN_BRACKET, CLOSE_BRACKET, OPEN_BRACE, CLOSE_BRACE] = [91, 93, 123, 125]

/** Position of the quote that ends a string; the end of the text where none does. */
function endOfString(json: string, start: number): number {
  for (let at = start + 1; at < json.length; at++) {
    const sign = json.charCodeAt(at)
    if (sign === BACKSLASH) at++
    else if (sign === QUOTE) return at
  }
  return json.length
}
