const RULES = new Intl.PluralRules('en-GB')
const NUMBERS = new Intl.NumberFormat('en-GB')

/** What is said of one thing and of several; "#" is the number. */
export interface PluralForms {
  readonly one: string
  readonly other: string
}

/** The form of a text that goes with a number, with the number in it: "1 sound", "1,200 sounds". */
export function plural(count: number, forms: PluralForms): string {
  const form = RULES.select(count) === 'one' ? forms.one : forms.other
  return form.replace('#', NUMBERS.format(count))
}
