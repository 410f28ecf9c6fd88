/** What the server says of files. */
export const files = {
  diskFullMakeRoomAnd: 'The disk is full. Make room and try again; nothing that was stored before is lost.',
  ofBytesWereWritten: (writtenBytes: number, wantedBytes: number) =>
    `${writtenBytes} of ${wantedBytes} bytes were written`,
  onlyMbAreFreeOn: (mb: number, mb2: number) =>
    `Only ${mb} MB are free on the disk, and this wants ${mb2} MB. Make room (Sources shows what takes it) and try again.`,
  moreThanBytes: (maxBytes: number) => `more than ${maxBytes} bytes`,
  uploadBrokeOffNothingWas: 'The upload broke off. Nothing was stored. Upload the file again.',
  fileNoLongerHereFetch: 'The file is no longer here. Fetch it again.',
  fileHasBytesPartAsked: (count: number) => `The file has ${count} bytes; the part asked for lies outside.`,
  fileHasMoreThan4: 'The file has more than 4 GB.',
}
