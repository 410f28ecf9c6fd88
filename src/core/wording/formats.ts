/** What the core says of formats. */
export const formats = {
  fileHasEntriesFirstWere: (count: string, markersMax: string) =>
    `The file has ${count} entries; the first ${markersMax} were read.`,
  isNoTime: (what: string) => `“${what}” is no time.`,
  thereIsNoStart: 'There is no start.',
  listBeginsAt0000: (hours: number) => `The list begins at ${hours}:00:00: that was taken off its times.`,
  listCountsMoreThanFrames: (nominalRate: number) =>
    `The list counts more than ${nominalRate} frames a second: choose the frame rate that it was written with.`,
  doesNotExistWhereNumbers: (event: string | undefined) =>
    `${event} does not exist where numbers are dropped: choose the frame rate that it was written with.`,
  isNoTimecode: (event: string | undefined) => `“${event}” is no timecode.`,
  partsThatAreNestedMore: (otioDeepest: number) => `Parts that are nested more than ${otioDeepest} deep were left out.`,
  theMarkerHasNoTime: (name: string) => `The marker “${name}” has no time.`,
  doesNotBeginWithTime: (line: string) => `“${line}” does not begin with a time.`,
  licence: (licenceUrl: string) => `Licence: ${licenceUrl}`,
  credit: (creditLine: string) => `Credit: ${creditLine}`,
  acquisition: (acquisitionId: string) => `Acquisition: ${acquisitionId}`,
  fileNoOdrlPolicyNested: 'The file is no ODRL policy: it is nested too deeply.',
  fileNoOdrlPolicyHolds: 'The file is no ODRL policy: it holds no object.',
  fileNoOdrlPolicyPermits: 'The file is no ODRL policy: it permits, forbids and asks for nothing.',
  policyHasMoreThanRules: (maxRules: number) => `The policy has more than ${maxRules} rules.`,
  importedPolicy: 'Imported policy',
}
