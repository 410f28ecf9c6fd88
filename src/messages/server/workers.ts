/** What the server says of workers. */
export const workers = {
  creditIs: (creditLine: string) => `Credit: ${creditLine}`,
  noCreditIsOwed: 'No credit is owed.',
  from: (source: string) => `From ${source}.`,
  acquisition: (acquisitionId: string) => `Acquisition ${acquisitionId}.`,
  fileDamagedOrTooLarge:
    'The file is damaged or too large: decoding it takes more memory than there is. Bring a shorter part of it.',
  fileDamagedReadingComesNo: 'The file is damaged: reading it comes to no end.',
  storedFeaturesCouldNotBe: 'Its stored features could not be read.',
  nothingInTheMiddle: 'Nothing is left of it when its left and right are mixed.',
  thereNoSoundInThat: 'There is no sound in that part: it lies behind the end. Mark an earlier one.',
  fileHasNoPictureThat: 'The file has no picture that could be read.',
  pictureDamagedCouldBeRead: (lastS: string) => `The picture is damaged: it could be read up to ${lastS} s.`,
}
