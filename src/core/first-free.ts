/**
 * The first name of a row that is not taken: the wanted one, then those with a number.
 *
 * @param numbered Gives the name with a number, from 2 on.
 */
export function firstFree(wanted: string, taken: ReadonlySet<string>, numbered: (number: number) => string): string {
  if (!taken.has(wanted)) return wanted
  for (let number = 2; ; number++) {
    const name = numbered(number)
    if (!taken.has(name)) return name
  }
}
