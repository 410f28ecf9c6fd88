import type { ReactNode } from 'react'
import { plural } from './plural'

/** What a check says of a finished video, and its credits. */
export const clearance = {
  whatYouSayIsWritten: (value: string, sentence: string) =>
    `${value}. ${sentence} What you say is written into the ledger with your name.`,
  whyItIsAccepted: 'Why it is accepted',
  reasonOptional: 'Reason (optional)',
  yourName: 'Your name',
  saving: 'Saving …',
  whichOneWasUsed: 'Which one was used',
  theSoundThatItIs: 'The sound that it is from',
  orAFileThatYou: 'or a file that you have',
  readingTheFile: 'Reading the file …',
  chosenItIsLookedFor: (title: string) => `Chosen: ${title}. It is looked for in the video at once.`,
  findings: 'Findings',
  noneOfTheSoundsOf: (listenedFor: number) =>
    `None of the ${listenedFor} sounds of your sources is heard in this file. That says nothing about sounds from elsewhere.`,
  audioTracksOfTheFile: 'Audio tracks of the file',
  notListenedTo: 'not listened to',
  credits: 'Credits',
  nothingThatWasHeardAnd: 'Nothing that was heard and has papers asks for a credit.',
  putThisInThe: 'Put this in the description:',
  copyTheCredits: 'Copy the credits',
  thePapersOf: (title: string) => `the papers of ${title}`,
  restsOn: (link: ReactNode, why: ReactNode) => (
    <>
      Rests on {link}. {why}
    </>
  ),
  hideTheClauses: 'Hide the clauses',
  allClauses: (count: number) => `All ${count} clauses`,
  whereIsHeard: (title: string) => `Where ${title} is heard`,
  db: (gainDb: string) => `${gainDb} dB`,
  allPlaces: (count: number) => `All ${count} places`,
  heardInItAsThey: (stems: string) => `Heard in it, as they are in it: ${stems}.`,
  theSameRecordingAs: (named: string) => `The same recording as ${named}.`,
  liesInItThatIs: (relatives: string) =>
    `${relatives} lies in it. That is another recording, and its papers do not count for this one.`,
  itLiesInALonger: (relatives: string) =>
    `It lies in ${relatives}, a longer file whose papers do not count for this one.`,
  itMayAlsoBeThey: (named: string) => `It may also be ${named}: they sound alike there.`,
  downloadItFrom: (sourceName: string) => `Download it from ${sourceName}`,
  markedPart: 'Marked part',
  markedTo: (clock: string, clock2: string, length: string) => `Marked: ${clock} to ${clock2}, ${length}`,
  dragOverTheMapTo: 'Drag over the map to mark a part of the sound track. Or:',
  startAt: (clock: string) => `Start at ${clock}`,
  endAt: (clock: string) => `End at ${clock}`,
  playIt: 'Play it',
  listening: 'Listening …',
  findSoundsLikeIt: 'Find sounds like it',
  clear: 'Clear',
  plannedAndHeard: 'Planned and heard',
  placedAndHeard: (heard: number, placedSounds: string) =>
    plural(heard, { one: `# of ${placedSounds} was heard.`, other: `# of ${placedSounds} were heard.` }),
  mutedAndNotLookedFor: (placedSoundsAre: string) => ` ${placedSoundsAre} muted and not looked for.`,
  whatIsPlacedWasChanged: ' What is placed was changed after this check.',
  thisCheckDoesNotTell: ' This check does not tell what was placed when it was made.',
  whatIsPlaced: 'What is placed',
  heardAsPlanned: 'Heard as planned',
  plannedAndNotHeard: 'Planned and not heard',
  placedAndNotHeard: 'Placed, and not heard for certain',
  heardAndNotPlanned: 'Heard and not planned',
  notExaminedOrNotExplained: 'Not examined or not explained',
  licencesThatDoNotGo: 'Licences that do not go together',
  settledByYourWord: (count: number) => `Settled by your word (${count})`,
  where: 'Where',
  playFrom: (clock: string) => `Play from ${clock}`,
  andMore: (value: number) => `and ${value} more`,
  theCreator: 'The creator',
  theVoicesInAllMy: 'The voices in all my videos are my own',
  putOnRecordThatThe: (by: string) => `${by} put on record that the voices in all videos are their own.`,
  checkAgain: 'Check again',
  summary: 'Summary',
  verdicts: 'Verdicts',
  onTheCreatorsWordAlone: (count: number) =>
    plural(count, {
      one: '# verdict rests on the creator’s word alone.',
      other: '# verdicts rest on the creator’s word alone.',
    }),
  listenedFor: 'Listened for',
  notExamined: 'Not examined',
  factsOfTheCheck: 'Facts of the check',
  silent: 'silent',
  lufs: (integratedLufs: string) => `${integratedLufs} LUFS`,
  truePeak: 'True peak',
  dbtp: (truePeakDbtp: string) => `${truePeakDbtp} dBTP`,
  loudnessRange: 'Loudness range',
  lu: (loudnessRangeLu: string) => `${loudnessRangeLu} LU`,
  partOfLength: (clock: string, clock2: string) => `${clock} of ${clock2}`,
  openPoints: 'Open points',
  allOfIt: 'all of it',
  playInTheVideo: (name: string) => `Play ${name} in the video`,
  moreBelow: (value: number) => `${value} more below`,
  theRestOfTheTrack: 'The rest of the track',
  howFarThisCanBe: 'How far this can be trusted',
  aBedOfNoise: 'a bed of noise',
  lengthOfSound: (length: string, name: string) => `${length} of ${name}`,
  besideTheFindingsThereIs: (parts: string) => `Beside the findings there is ${parts}.`,
  thereIsNothingBesideThe: 'There is nothing beside the findings.',
  nothingElseStandsOut: 'Nothing else stands out.',
  ofTheTrackIsExplained: (share: string) => `${share} of the track is explained.`,
  nothingWasListenedFor: 'Nothing was listened for.',
  thatCannotBeInTheTrack: (count: number) =>
    plural(count, {
      one: '# sound that cannot be in the track, because it was changed beforehand, was listened for too',
      other: '# sounds that cannot be in the track, because they were changed beforehand, were listened for too',
    }),
  andNoneWasHeard: (tried: string) => `${tried}, and none was heard.`,
  andSeemedToBeThere: (tried: string, heard: number) =>
    `${tried}, and ${heard} seemed to be there: be careful with findings that are only possible.`,
  speedsInFull: (count: number) =>
    plural(count, {
      one: '# sound was searched for at other speeds in full (0.78 to 1.28 times, with the pitch moving along or kept).',
      other:
        '# sounds were searched for at other speeds in full (0.78 to 1.28 times, with the pitch moving along or kept).',
    }),
  speedsLookedUp: (count: number) =>
    plural(count, {
      one: '# sound of the libraries was looked up at other speeds (0.75 to 1.34 times, with the pitch moving along): that finds most places, not all.',
      other:
        '# sounds of the libraries were looked up at other speeds (0.75 to 1.34 times, with the pitch moving along): that finds most places, not all.',
    }),
  speedsNot: (count: number) =>
    plural(count, {
      one: '# sound was searched for at its own speed only.',
      other: '# sounds were searched for at their own speed only.',
    }),
  notBackwards:
    'None was searched for backwards, or at speeds beyond these: such a sound is noticed only where it stands out by itself.',
  unexplained: 'Unexplained',
  noEventStandsOutThat: 'Nothing stands out that is not speech, music or a sound of your libraries.',
  noSoundOfYourLibraries: (count: number) =>
    plural(count, {
      one: '# event that is no sound of your libraries. Say above where it is from.',
      other: '# events that are no sound of your libraries. Say above where they are from.',
    }),
  notNoticedUnderSpeech: (length: string) =>
    `Under the ${length} of speech, a sound that is in none of your libraries is not noticed.`,
  whereTheyAre: 'Where they are',
  unexplainedEvents: 'Unexplained events',
  playTheEventAt: (clock: string) => `Play the event at ${clock}`,
  toHzDb: (length: string, lowHz: string, highHz: string, levelDb: string) =>
    `${length}, ${lowHz} to ${highHz} Hz, ${levelDb} dB`,
  maybe: (words: string) => `maybe ${words}`,
  findSoundsLikeTheEvent: (clock: string) => `Find sounds like the event at ${clock}`,
  soundsLikeIt: 'Sounds like it',
  notHeardHalfOfThem: (count: number, level: string) =>
    plural(count, {
      one: `# sound was not heard. It would have been heard from ${level} up, compared with its file.`,
      other: `# sounds were not heard. Half of them would have been heard from ${level} up, compared with their files.`,
    }),
  areMissedMoreOften: (tones: number, clicks: number) => {
    const words = [
      ...(tones > 0
        ? [
            plural(tones, {
              one: '# has most of its power in few frequencies, as tones and thumps have',
              other: '# have most of their power in few frequencies, as tones and thumps have',
            }),
          ]
        : []),
      ...(clicks > 0 ? [plural(clicks, { one: '# is a short click', other: '# are short clicks' })] : []),
    ]
    return `Of them ${words.join(', and ')}: in a mix such sounds are missed more often than others, also above that level.`
  },
  fewFrequencies: 'few frequencies',
  shortClick: 'short click',
  fromWhichLevelEachWould: 'From which level each would have been heard',
  soundsThatWereNotHeard: 'Sounds that were not heard',
  atNoLevelForSure: 'at no level for sure',
  from: (level: string) => `from ${level}`,
  levelDb: (which: string, levelDb: string) => `${which}${levelDb} dB`,
  heardSounds: 'Heard sounds',
  lineMomentaryLoudness: 'Line: momentary loudness',
  dottedLufsOverAll: (integratedLufs: string) => `; dotted: ${integratedLufs} LUFS over all`,
  outlinedUnexplained: '. Outlined: unexplained',
  theWheelZoomsWithShift: '. The wheel zooms, with Shift it pans.',
  toPlayThere: (title: string, value: string, clock: string, clock2: string) =>
    `${title}, ${value}, ${clock} to ${clock2}. Play there`,
  nothingListenedForTitle: 'Nothing was listened for',
  sourcesThatWereNotRead: 'Sources that were not read',
  newSoundsSinceTheCheck: 'New sounds since the check',
  soundsThatCouldNotBe: 'Sounds that could not be listened for',
  beyondTheirPreviews: (sounds: string) => `${sounds} beyond the preview`,
  leftAndRightCancel: 'Left and right cancel each other out',
  soundsKnownByAnExcerpt: 'Sounds known by an excerpt',
  notSearchedToTheEnd: 'Not searched to the end',
  aTrackThatWasNot: 'A track that was not listened to',
  aPartThatCouldNot: 'A part that could not be decoded',
  speech: 'Speech',
  unexplainedMusic: 'Unexplained music',
  unexplainedNoise: 'Unexplained noise',
  unexplainedSound: 'Unexplained sound',
  whichCopyWasUsed: 'Which copy was used',
  onlyPossible: 'Not sure which sound it is',
  itIsThatSound: 'It is that sound',
  itIsMyOwn: 'It is my own',
  itIsFromASound: 'It is from a sound or file',
  acceptIt: 'Accept it',
  putOnRecordThatIt: (by: string, why: string) => `${by} put on record that it is their own${why}.`,
  acceptedBy: (by: string, why: string) => `Accepted by ${by}${why}.`,
  aSoundThatIsGone: 'a sound that is gone',
  putOnRecordThatWas: (by: string, from: string, why: string) => `${by} put on record that ${from} was used${why}.`,
  saidThatItIsFrom: (by: string, from: string) =>
    `${by} said that it is from ${from}. It was looked for there, and is not heard: the point stays open.`,
  openAndWhatWasNot: (said: string, count: number) =>
    plural(count, {
      one: `${said}: # point is open, and what was not examined may hold more.`,
      other: `${said}: # points are open, and what was not examined may hold more.`,
    }),
  notReady: (words: string) => `Not ready: ${words}.`,
  ofTheFile: (parts: string) => `${parts} of the file`,
  addedSince: (sounds: string) => `${sounds} added since`,
  sourcesNotReadYet: 'sources that were not read yet',
  addedAtSince: (library: string, since: string) => `what ${library} added since ${since}`,
  unseenOf: (libraries: string) => `sounds of ${libraries} that you did not see yet`,
  soundsFromElsewhere: 'sounds from elsewhere',
  nothingToCreditYet: 'Nothing to credit yet',
  goToClearance: 'Go to Clearance',
  goToSources: 'Go to Sources',
  findTheSound: 'Find the sound',
  goToInPlace: 'Go to In place',
  creditsAndProofAreOf:
    'Credits and proof come from what is heard in the finished video. Upload it under Clearance first.',
  openingTheCredits: 'Opening the credits',
  proof: 'Proof',
  whatWasHeardInAnd: (fileName: string) => `What was heard in ${fileName}, and what each verdict rests on.`,
  factsOfTheCheckJson: 'Facts of the check (JSON)',
  theLedger: 'The ledger',
}
