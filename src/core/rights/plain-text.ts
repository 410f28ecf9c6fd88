const TAG = /^(?:\/?[a-z][a-z0-9]*(?:\s.*)?\/?|!--.*|!doctype.*)$/is
const LINE_TAGS = /^\/?(?:p|br|li|ul|ol|div|h[1-6]|tr|td|th|table|section|article|blockquote|hr|dt|dd)\b/i
const ITEM_TAG = /^li\b/i
const ENTITIES: Readonly<Record<string, string>> = {
  amp: '&',
  lt: '<',
  gt: '>',
  quot: '"',
  apos: "'",
  nbsp: ' ',
  rsquo: '’',
  lsquo: '‘',
  ldquo: '“',
  rdquo: '”',
  ndash: '–',
  mdash: '—',
  copy: '©',
}
const TAG_LENGTH_MAX = 500

/** A text without HTML. What opens like a tag and is none stays as it is. */
export function plainText(text: string): string {
  let out = ''
  let at = 0
  while (at < text.length) {
    const open = text.indexOf('<', at)
    if (open < 0) break
    const close = text.slice(open, open + TAG_LENGTH_MAX).indexOf('>')
    const tag = close < 0 ? '' : text.slice(open + 1, open + close)
    if (!TAG.test(tag)) {
      out += text.slice(at, open + 1)
      at = open + 1
      continue
    }
    out += text.slice(at, open) + (LINE_TAGS.test(tag) ? (ITEM_TAG.test(tag) ? '\n- ' : '\n\n') : '')
    at = open + close + 1
  }
  return (out + text.slice(at)).replace(/&(#\d{1,6}|[a-z]{2,6});/gi, (whole, name: string) =>
    name.startsWith('#') ? characterOf(Number(name.slice(1))) : (ENTITIES[name.toLowerCase()] ?? whole),
  )
}

function characterOf(code: number): string {
  return code > 0 && code <= 0x10ffff ? String.fromCodePoint(code) : ''
}
