/** Signs that are not seen and change how the text around them is: controls, and those that turn the direction of writing (Unicode, UAX 9). */
// biome-ignore lint/suspicious/noControlCharactersInRegex: control characters are what is looked for
const UNSEEN = /[\u0000-\u0008\u000b-\u001f\u007f-\u009f\u061c\u200e\u200f\u2028-\u202e\u2066-\u2069\ufeff]/g

/** A text from outside in which what would not be seen is shown as a replacement sign, and obeyed by nothing. */
export function visibleText(text: string): string {
  return text.replace(UNSEEN, '\ufffd')
}

/** An address of the web as it is given; null for any other kind of address, and for what is none. */
export function webAddress(address: string | null): string | null {
  return address !== null && /^https?:\/\/[^\s/]/i.test(address) && address.length <= 2000 ? address : null
}
