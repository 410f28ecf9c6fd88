/** A text without the characters that it ends with, of those that are given. Time grows with what is taken away only. */
export function trimmedEnd(text: string, characters: string): string {
  let end = text.length
  while (end > 0 && characters.includes(text.charAt(end - 1))) end--
  return text.slice(0, end)
}
