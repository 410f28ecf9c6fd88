/** What the server says of live. */
export const live = {
  notLibraryThatSearchedWhile: (name: string) => `${name} is not a library that is searched while you type.`,
  accountAndTermsReadSearched: 'Account and terms read; it is searched while you type',
}
