/** What the server says of removal. */
export const removal = {
  thisVideo: 'This video',
  thisFile: 'This file',
  thisCheck: 'This check',
  thisCut: 'This cut',
  thisSource: 'This source',
  thisFolderThereOnceMore: (name: string) =>
    `This folder is there once more as the source “${name}”. Remove that one first.`,
}
