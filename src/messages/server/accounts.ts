/** What the server says of accounts. */
export const accounts = {
  thereNoKeyForGive: (name: string) => `There is no key for ${name}. Give one in Sources.`,
  pausedResumeInSources: (name: string) => `${name} is paused. Resume it in Sources.`,
  notOnFileWhereConnect: (name: string) => `It is not on file where ${name} is. Connect it again in Sources.`,
  descriptionNotOneThatThis: (name: string) =>
    `The description of ${name} is not one that this version understands. Connect the library again in Sources.`,
  thereIsNoSourceCalled: (id: string) => `There is no source called “${id}”.`,
  thisLibrary: 'This library',
  didNotAnswerWithinS: (tryMs: number) => `It did not answer within ${tryMs} s.`,
  itsCatalogueListsNoSounds: 'Its catalogue lists no sounds.',
  callsTextThatAnotherOne: (misfitLabel: string) =>
    `It calls a text ${misfitLabel} that is another one: nothing is taken to be allowed by it.`,
  moreThan: 'more than ',
  synchronising: (name: string) => `Synchronising ${name}`,
  thereSourceCalledAlreadyGive: (name: string) =>
    `There is a source called “${name}” already. Give this account another name.`,
}
