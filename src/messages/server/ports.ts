/** What the server says of ports. */
export const ports = {
  cannotBeUnderstoodNothingHere: (libraryName: string, what: string) =>
    `${libraryName} cannot be understood: ${what}. Nothing here was changed.`,
  catalogueGoesRoundInCircle: (name: string) =>
    `The catalogue of ${name} goes round in a circle: a page comes a second time. Nothing here was changed.`,
  sendsMoreThanSoundsOn: (name: string, maxPageSounds: number) =>
    `${name} sends more than ${maxPageSounds} sounds on one page.`,
  catalogueDoesNotComeEnd: (name: string) => `The catalogue of ${name} does not come to an end.`,
}
