import type { Reading } from './terms'
import { USE_PLACES } from './terms'

const ANY_USE = 'may be used in any way, in all media, for money or not'

/** What it means that someone made a recording and holds all rights in it. It is that person's word, and is put on record as such. */
export const OWN_WORK = {
  title: 'Own recording',
  shortTitle: 'Own',
  version: '1',
  text: `This recording was made by the one who holds these papers, who owns all rights in it and in what is heard in it. It
${ANY_USE}, in all countries and for ever. It may be cut, mixed, passed on and handed over with a
video. No credit is owed, and the video may be published under any licence.`,
  readings: [
    ...[...USE_PLACES, 'earning' as const].map((key): Reading => ({ key, answer: 'yes', phrase: ANY_USE })),
    { key: 'modification', answer: 'yes', phrase: 'It may be cut, mixed' },
    { key: 'standalone', answer: 'yes', phrase: 'passed on' },
    { key: 'transfer', answer: 'yes', phrase: 'handed over with a video' },
    { key: 'credit', answer: 'yes', phrase: 'No credit is owed' },
    { key: 'share-alike', answer: 'yes', phrase: 'the video may be published under any licence' },
    { key: 'territory', answer: 'yes', phrase: 'in all countries and for ever' },
    { key: 'duration', answer: 'yes', phrase: 'in all countries and for ever' },
  ] satisfies readonly Reading[],
} as const
