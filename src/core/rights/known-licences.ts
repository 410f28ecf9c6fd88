import type { ClauseKey, Duration, Limit, Reading } from './terms'
import { USE_PLACES } from './terms'

/** How the text of a widely used licence is read. */
export interface KnownLicence {
  readonly spdxId: string
  readonly title: string
  readonly shortTitle: string
  readonly version: string
  readonly url: string
  readonly duration: Duration
  readonly readings: readonly Reading[]
}

/** The words of a version of the attribution family that its clauses rest on. */
interface FamilyWords {
  readonly version: string
  readonly media: string
  readonly worldwideForEver: string
  readonly share: string
  /** Words that stand only where commercial use is not held back. */
  readonly earning: string
  /** A recording set to moving pictures is an adaptation, so these decide every video. */
  readonly adapt: string
  readonly noAdaptations: string
  readonly nonCommercial: string
  readonly credit: string
  readonly shareAlike: (elements: Elements) => string
  readonly recipients: string
}

interface Elements {
  readonly nonCommercial?: true
  readonly shareAlike?: true
  readonly noDerivatives?: true
}

/** Section 1(a): adapted material is always produced where a recording is synched with a moving image. */
const FOUR: FamilyWords = {
  version: '4.0',
  media: 'in all media and formats whether now known or hereafter created',
  worldwideForEver: 'worldwide, royalty-free, non-sublicensable, non-exclusive, irrevocable license',
  share: 'reproduce and Share the Licensed Material, in whole or in part',
  earning: 'reproduce and Share the Licensed Material, in whole or in part; and',
  adapt: 'produce, reproduce, and Share Adapted Material',
  noAdaptations: 'produce and reproduce, but not Share, Adapted Material',
  nonCommercial: 'not primarily intended for or directed towards commercial advantage or monetary compensation',
  credit: 'identification of the creator(s) of the Licensed Material',
  shareAlike: () =>
    "The Adapter's License You apply must be a Creative Commons license with the same License Elements, this version or later",
  recipients: 'Every recipient of the Licensed Material automatically receives an offer from the Licensor',
}

/** Section 1(a) names "synching" with moving pictures as an adaptation. */
const THREE: FamilyWords = {
  version: '3.0',
  media: 'in all media and formats whether now known or hereafter devised',
  worldwideForEver:
    'worldwide, royalty-free, non-exclusive, perpetual (for the duration of the applicable copyright) license',
  share: 'to Distribute and Publicly Perform the Work including as incorporated in Collections',
  earning: 'The Licensor waives the right to collect royalties, whether individually or',
  adapt: 'to create and Reproduce Adaptations',
  noAdaptations: 'otherwise you have no rights to make Adaptations',
  nonCommercial: 'primarily intended for or directed toward commercial advantage or private monetary compensation',
  credit:
    'keep intact all copyright notices for the Work and provide, reasonable to the medium or means You are utilizing',
  shareAlike: ({ nonCommercial }) =>
    nonCommercial
      ? 'You may Distribute or Publicly Perform an Adaptation only under: (i) the terms of this License'
      : 'You may Distribute or Publicly Perform an Adaptation only under the terms of: (i) this License',
  recipients: 'the Licensor offers to the recipient a license to the Work on the same terms and conditions',
}

const WAIVER =
  'for any purpose whatsoever, including without limitation commercial, advertising or promotional purposes'
const FREE_TO_USE =
  'You can copy, modify, distribute and perform the work, even for commercial purposes, all without asking permission'

const CREDITED: Limit = { kind: 'credit', owed: true, where: 'in any reasonable manner', template: null }

const COMMERCIAL_PLACES: readonly ClauseKey[] = ['paid-advertising', 'client-work']

function yes(key: ClauseKey, phrase: string): Reading {
  return { key, answer: 'yes', phrase }
}

/** "BY-NC-SA". */
function nameOf({ nonCommercial, shareAlike, noDerivatives }: Elements): string {
  return ['BY', nonCommercial && 'NC', shareAlike && 'SA', noDerivatives && 'ND'].filter(Boolean).join('-')
}

/** One of the attribution family; which elements are present decides the clauses. */
function attribution(elements: Elements, words: FamilyWords): KnownLicence {
  const { nonCommercial, shareAlike, noDerivatives } = elements
  const { version } = words
  const name = nameOf(elements)
  const adaptation = noDerivatives ? words.noAdaptations : words.adapt
  return {
    spdxId: `CC-${name}-${version}`,
    title: `Creative Commons ${name} ${version}`,
    shortTitle: `CC ${name}`,
    version,
    url: `https://creativecommons.org/licenses/${name.toLowerCase()}/${version}/`,
    duration: 'for-ever',
    readings: [
      ...USE_PLACES.map(
        (place): Reading =>
          nonCommercial && COMMERCIAL_PLACES.includes(place)
            ? { key: place, answer: 'no', phrase: words.nonCommercial }
            : yes(place, words.media),
      ),
      nonCommercial ? { key: 'earning', answer: 'no', phrase: words.nonCommercial } : yes('earning', words.earning),
      { key: 'modification', answer: noDerivatives ? 'no' : 'yes', phrase: adaptation },
      { key: 'credit', answer: 'duty', phrase: words.credit, limit: CREDITED },
      shareAlike
        ? { key: 'share-alike', answer: 'duty', phrase: words.shareAlike(elements) }
        : yes('share-alike', adaptation),
      yes('territory', words.worldwideForEver),
      yes('duration', words.worldwideForEver),
      yes('standalone', words.share),
      yes('transfer', words.recipients),
    ],
  }
}

const ZERO: KnownLicence = {
  spdxId: 'CC0-1.0',
  title: 'Creative Commons Zero 1.0',
  shortTitle: 'CC0',
  version: '1.0',
  url: 'https://creativecommons.org/publicdomain/zero/1.0/',
  duration: 'for-ever',
  readings: [
    ...USE_PLACES.map((place) => yes(place, WAIVER)),
    yes('earning', WAIVER),
    yes('modification', 'the right to reproduce, adapt, distribute, perform, display,'),
    yes('credit', WAIVER),
    yes('share-alike', WAIVER),
    yes('territory', 'in all territories worldwide'),
    yes('duration', 'for the maximum duration provided by applicable law or treaty'),
    yes('standalone', WAIVER),
    yes('transfer', WAIVER),
  ],
}

/**
 * The mark on what is free of known restrictions. It is no licence: it says itself that other countries may see it otherwise, and
 * it promises nothing for later, so by itself it never makes a sound clear.
 */
const PUBLIC_DOMAIN_MARK: KnownLicence = {
  spdxId: 'CC-PDM-1.0',
  title: 'Public Domain Mark 1.0',
  shortTitle: 'Public domain',
  version: '1.0',
  url: 'https://creativecommons.org/publicdomain/mark/1.0/',
  duration: 'not-stated',
  readings: [
    ...USE_PLACES.map((place) => yes(place, FREE_TO_USE)),
    yes('earning', FREE_TO_USE),
    yes('modification', FREE_TO_USE),
    yes('share-alike', FREE_TO_USE),
    yes('standalone', FREE_TO_USE),
    yes('transfer', FREE_TO_USE),
  ],
}

const FAMILY: readonly Elements[] = [
  {},
  { nonCommercial: true },
  { shareAlike: true },
  { noDerivatives: true },
  { nonCommercial: true, shareAlike: true },
  { nonCommercial: true, noDerivatives: true },
]

/** The licences that are read without help, by SPDX identifier. */
export const KNOWN_LICENCES: ReadonlyMap<string, KnownLicence> = new Map(
  [
    ZERO,
    PUBLIC_DOMAIN_MARK,
    ...[FOUR, THREE].flatMap((words) => FAMILY.map((elements) => attribution(elements, words))),
  ].map((licence) => [licence.spdxId, licence]),
)
