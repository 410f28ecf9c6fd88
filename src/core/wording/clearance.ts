import { dayWords } from '../day-words'

/** What the core says of clearance. */
export const clearance = {
  partWhichWasTakenAs: (title: string) => `It is a part of “${title}”, which was taken as a whole.`,
  whatStemsAddUpAnd: (names: string) => `It is what its stems add up to, and all of them were taken: ${names}.`,
  putEarlierFileBackAnd: 'Put the earlier file back and check again.',
  sayWhereNewFileFrom: 'Say where the new file is from, and under which terms.',
  isTheSameRecording: 'is the same recording',
  soundsAlikeThere: 'sounds alike there',
  thisFileChangedOnPapers: (on: string) => `This file changed on ${dayWords(on)}; its papers were for the file before.`,
  whatHeardAnotherRecordingThan: (title: string) =>
    `What is heard is another recording than the one that the papers of “${title}” are for.`,
  heardInVideoAndListed: (sourceName: string) =>
    `Heard in the video and listed at ${sourceName}, but never acquired: nothing on file allows it.`,
  heardInVideoAndNothing: 'Heard in the video, and nothing on file says where it is from.',
  noTierAllowsThisVideo: (sourceName: string) => `No tier of ${sourceName} allows this video.`,
  downloadFromTermsAllowThis: (sourceName: string) => `Download it from ${sourceName}: its terms allow this video.`,
  downloadFromAndGiveCredit: (sourceName: string) =>
    `Download it from ${sourceName} and give the credit: its terms allow this video then.`,
  downloadingWouldNotSettleThis: (sentence: string) => `Downloading it would not settle this: ${sentence}`,
  sound: (soundId: number) => `Sound ${soundId}`,
  aSourceThatIsGone: 'a source that is gone',
  wantsWholeVideoUnderAnd: (title: string, title2: string, title3: string, title4: string) =>
    `“${title}” wants the whole video under ${title2}, and “${title3}” wants it under ${title4}: no licence meets both. Replace one of them.`,
  wholeVideoUnderSameLicence: (wanted: string, licenceCount: number) =>
    licenceCount === 1
      ? `${wanted}: its licence wants the whole video under the same licence, and all rights in this video are kept.`
      : `${wanted}: their licences want the whole video under the same licence, and all rights in this video are kept.`,
  passingTheSoundOn: 'passing the sound on',
  commercialUse: 'commercial use',
  videoPublishedUnderWhichLets: (
    videoLicence: string,
    isCommercial: boolean,
    terms: string,
    title: string,
    lacks: string,
  ) =>
    isCommercial
      ? `The video is published under ${videoLicence}, which lets everyone pass it on, also commercially; ${terms}, under which “${title}” is here, does not allow ${lacks}. Replace it, or choose another licence for the video.`
      : `The video is published under ${videoLicence}, which lets everyone pass it on; ${terms}, under which “${title}” is here, does not allow ${lacks}. Replace it, or choose another licence for the video.`,
  noSoundWasListenedFor: 'No sound was listened for. Add a source and check again.',
  cameOrChangedSince: (count: number) =>
    count === 1
      ? '1 sound came or changed since, or was listened for only in part. Check again.'
      : `${count.toLocaleString('en-GB')} sounds came or changed since, or were listened for only in part. Check again.`,
  wereNotReadYet: (names: string, count: number) =>
    count === 1
      ? `Nothing of ${names} was listened for: it was not read to the end yet. Sync it again, or pause or remove it if it should not count.`
      : `Nothing of ${names} was listened for: they were not read to the end yet. Sync them again, or pause or remove those that should not count.`,
  yourSourcesCouldNotBe: (count: string) => `${count} of your sources could not be listened for.`,
  knownByAnExcerpt: (count: number) =>
    count === 1
      ? '1 sound of your sources is longer than its preview. What the preview leaves out could not be listened for.'
      : `${count.toLocaleString('en-GB')} sounds of your sources are longer than their previews. What the previews leave out could not be listened for.`,
  wasNotListenedTo: (name: string, notListenedReason: string) => `${name} was not listened to: ${notListenedReason}`,
  wasNotSearchedEndCheck: (name: string) => `${name} was not searched to the end. Check again.`,
  couldNotBeDecodedFrom: (name: string, clock: string, clock2: string) =>
    `${name} could not be decoded from ${clock} to ${clock2}.`,
  leftAndRightOppose: (name: string, clock: string, count: number, isListenedFor: boolean) => {
    const cancel = `left and right of ${name} cancel each other out`
    const where = count === 1 ? `At ${clock} ${cancel}.` : `From ${clock} on ${cancel} in ${count} places.`
    return `${where} What is there was ${notRecognised(isListenedFor)}.`
  },
  leftAndRightOpposeInPart: (name: string, clock: string, count: number, isListenedFor: boolean) => {
    const cancels = `part of what is heard in ${name} cancels itself out between left and right`
    return count === 1
      ? `At ${clock} ${cancels}. That part was ${notRecognised(isListenedFor)}.`
      : `From ${clock} on ${cancels}, in ${count} places. Those parts were ${notRecognised(isListenedFor)}.`
  },
  decodingStopped: 'Decoding stopped',
  fileBreaksOffOrDamaged: 'The file breaks off or is damaged',
  atInHowMuchMissing: (why: string, clock: string, lowerFirst: string) =>
    `${why} at ${clock} in ${lowerFirst}; how much is missing is not known.`,
  holdsSpeech: (name: string) => `${name} holds speech.`,
  holdsSpeechOfNobodyKnown: (name: string) => `${name} holds speech, and nobody put on record whose it is.`,
  holdsMusicFromThatNo: (name: string, clock: string, clock2: string) =>
    `${name} holds music from ${clock} to ${clock2} that no sound of yours explains.`,
  holdsBedNoiseRoomWind: (name: string, count: string) =>
    `${name} holds a bed of noise (room, wind, machines) in ${count} that no sound of yours explains.`,
  somethingStandsOutAtThat: (lowerFirst: string, clock: string) =>
    `Something stands out of ${lowerFirst} at ${clock} that no sound of yours explains.`,
  somethingStandsOutInPlaces: (lowerFirst: string, count: number, clock: string) =>
    `Something stands out of ${lowerFirst} in ${count} places, from ${clock} on, that no sound of yours explains.`,
  theSoundTrack: 'The sound track',
  notChecked: 'not checked',
  partlyExamined: 'partly examined',
  acceptedBy: (points: string, by: string) => `${points} accepted by ${by}`,
  withText: (accepted: string) => `, with ${accepted}`,
  isTheSameRecordingAs: (list: string) => `is the same recording as ${list}`,
  onlyPossibleThat: (title: string, sourceName: string, count: number, clock: string) =>
    count === 1
      ? `It is only possible that “${title}” (${sourceName}) is heard at ${clock}: it may be another sound. Listen there, and say what it is.`
      : `It is only possible that “${title}” (${sourceName}) is heard in ${count} places, from ${clock} on: it may be another sound. Listen there, and say what it is.`,
  placedAndNotHeard: (title: string, sourceName: string, count: number, clock: string) =>
    count === 1
      ? `“${title}” (${sourceName}) is placed at ${clock} and was not heard in the file, which does not mean that it is not there.`
      : `“${title}” (${sourceName}) is placed in ${count} places, from ${clock} on, and was not heard in the file, which does not mean that it is not there.`,
  placedAndMayBeHeard: (title: string, sourceName: string, count: number, clock: string) =>
    count === 1
      ? `“${title}” (${sourceName}) is placed at ${clock}. Another sound was heard that it cannot be told from: what is heard may be it.`
      : `“${title}” (${sourceName}) is placed in ${count} places, from ${clock} on. Another sound was heard that it cannot be told from: what is heard may be it.`,
  ifThereNoPapers: 'Nothing on file allows it: acquire it, or say why it does not count.',
  ifThereNotAllowed: (reason: string) => `${reason} Replace it and check the new file, or say why it does not count.`,
  ifThereCreditOwed: (creditLine: string) =>
    creditLine ? `If it is there, a credit is owed: ${creditLine}` : 'If it is there, a credit is owed.',
  cannotBeToldFromWhere: (list: string) => `cannot be told from ${list} where it is heard`,
}

function notRecognised(isListenedFor: boolean): string {
  return isListenedFor ? 'not recognised' : 'not listened for: check the video again'
}
