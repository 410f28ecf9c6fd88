/** What the server says of media. */
export const media = {
  markPartUpTenMinutes: 'Mark a part of up to ten minutes that ends after it starts.',
  packetCouldNotBeDecoded: 'a packet could not be decoded',
  fileDamagedSoundSaidGo: (maxGapS: number) =>
    `The file is damaged: its sound is said to go on only after a gap of more than ${maxGapS} minutes.`,
  soundTrackLongerThanHours: (maxTrackS: number) =>
    `The sound track is longer than ${maxTrackS} hours. Check it in parts.`,
  fileHasSoundTrackBut: 'The file has a sound track, but nothing in it could be decoded.',
  fileNotVideoOrSound: 'The file is not a video or sound file that can be read.',
  fileDamagedListTracksCannot: 'The file is damaged: its list of tracks cannot be read.',
  fileHasNoSoundTrack: 'The file has no sound track. Export it with its sound.',
  fileHasNoSoundTrackWith: (index: number) => `The file has no sound track with the number ${index}.`,
  somethingUnknown: 'something unknown',
  soundEncodedAsWhichCannot: (name: string) =>
    `Its sound is encoded as ${name}, which cannot be decoded. Export it with AAC, MP3, Opus, FLAC or PCM sound.`,
  fileHasNoSoundTrackWithNumber: (trackIndex: number) => `The file has no sound track with the number ${trackIndex}.`,
  fileDamagedNoSoundIn: 'The file is damaged: no sound in it could be decoded.',
  fileDamagedSoundCouldNot: 'The file is damaged: its sound could not be decoded.',
  fileDamagedWhatHoldsCould: 'The file is damaged: what it holds could not be read.',
  pictureHasMoreFramesThan: 'The picture has more frames than can be taken. Bring a shorter cut.',
  pictureCouldNotBeDecoded: 'The picture could not be decoded.',
  smallPictureTooLarge: 'A small picture is too large.',
  cutHasNoPictureThat: 'The cut has no picture that can be copied.',
  thereNoSoundInThis: 'There is no sound in this file.',
}
