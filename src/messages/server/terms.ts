/** What the server says of terms. */
export const terms = {
  thisTextOnTermsCould: (text: string) => `This text on terms could not be read: ${text}`,
  thisTextTakesTooLong: 'This text takes too long to read. Give the part of it that speaks of the licence.',
  textLabelled: (title: string) => `Text labelled ${title}`,
  notKnown: 'Not known',
  unknownLicence: 'Unknown licence',
  licenceThisSoundNotKnown: 'The licence of this sound is not known. What is not stated is not allowed.',
  thePolicyIsTooLong: 'The policy is too long.',
  fileNoJsonLdChoose: 'The file is no JSON-LD. Choose an ODRL policy.',
  thereNoPolicyInFile: 'There is no policy in the file.',
  moreThanNewPoliciesAre: (maxNew: number) => `More than ${maxNew} new policies are not taken from one file.`,
  imported: 'Imported',
  thisImportedPolicy: 'This imported policy',
  thePolicyPermitsNothingOn: (clauseWords: string) => `The policy permits nothing on “${clauseWords}”.`,
  asConfirmed: 'As confirmed',
  thisVersionOfTheTerms: 'This version of the terms',
}
