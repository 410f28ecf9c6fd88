/** What the server says of described. */
export const described = {
  largerThan24Kb: 'it is larger than 24 KB',
  neitherYamlNorJson: 'it is neither YAML nor JSON',
  theWhole: 'the whole',
  thisDescriptionCannotBeUsed: (problems: string) => `This description cannot be used. ${problems}.`,
  aText: 'a text',
  aNumber: 'a number',
  trueOrFalse: 'true or false',
  aList: 'a list',
  aListOfAtMost: (listMax: number) => `a list of at most ${listMax}`,
  aLength: 'a length',
  oneOf: (keys: string) => `one of ${keys}`,
  nameOfAChoice: 'name of a choice',
  previewOfAChoice: 'preview of a choice',
  untitledSound: 'Untitled sound',
  priceOf: (key: string) => `price of ${key}`,
  descriptionAsksForWhereOnly: (libraryName: string, name: string, keys: string) =>
    `The description of ${libraryName} asks for {${name}} where only ${keys} are known. Correct the description.`,
  aName: 'a name',
  asksForEnterInSources: (libraryName: string, missing: string) =>
    `${libraryName} asks for ${missing}. Enter it in Sources.`,
  descriptionDoesNotSayHow: 'its description does not say how it is searched',
  sellsBySoundChooseTier: (name: string) => `${name} sells by the sound: choose a tier first.`,
  noAmountInSmallestUnit: (text: string) => `“${text}” is no amount in the smallest unit of a currency`,
}
