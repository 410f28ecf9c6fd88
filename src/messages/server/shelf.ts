/** What the server says of shelf. */
export const shelf = {
  thisCollection: 'This collection',
  thereCollectionCalledAlreadyChoose: (name: string) =>
    `There is a collection called “${name}” already. Choose another name.`,
  oneOfTheseSounds: 'One of these sounds',
}
