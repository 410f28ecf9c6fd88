/** Text as it stands between the tags of markup. In an attribute its quotes have to be escaped too. */
export function escapedMarkup(text: string): string {
  return text.replace(/&/g, '&amp;').replace(/</g, '&lt;').replace(/>/g, '&gt;')
}
