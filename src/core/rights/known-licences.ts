import type { ClauseKey, Duration, Reading } from './terms'
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

const ALL_MEDIA = 'in all media and formats whether now known or hereafter created'
const WORLDWIDE_FOR_EVER = 'worldwide, royalty-free, non-sublicensable, non-exclusive, irrevocable license'
const NON_COMMERCIAL = 'not primarily intended for or directed towards commercial advantage or monetary compensation'
const ATTRIBUTION = 'identification of the creator(s) of the Licensed Material'
const SHARE_ALIKE =
  "The Adapter's License You apply must be a Creative Commons license with the same License Elements, this version or later"
const NO_DERIVATIVES = 'produce and reproduce, but not Share, Adapted Material'
const ADAPT = 'produce, reproduce, and Share Adapted Material'
const WAIVER =
  'for any purpose whatsoever, including without limitation commercial, advertising or promotional purposes'

const COMMERCIAL_PLACES: readonly ClauseKey[] = ['paid-advertising', 'client-work']

function yes(key: ClauseKey, phrase: string): Reading {
  return { key, answer: 'yes', phrase }
}

/** The 4.0 family of Creative Commons licences; which elements are present decides the clauses. */
function attribution(elements: { nonCommercial?: true; shareAlike?: true; noDerivatives?: true }): KnownLicence {
  const name = ['BY', elements.nonCommercial && 'NC', elements.shareAlike && 'SA', elements.noDerivatives && 'ND']
    .filter(Boolean)
    .join('-')
  const places: Reading[] = USE_PLACES.map((place) =>
    elements.nonCommercial && COMMERCIAL_PLACES.includes(place)
      ? { key: place, answer: 'no', phrase: NON_COMMERCIAL }
      : yes(place, ALL_MEDIA),
  )
  return {
    spdxId: `CC-${name}-4.0`,
    title: `Creative Commons ${name} 4.0`,
    shortTitle: `CC ${name}`,
    version: '4.0',
    url: `https://creativecommons.org/licenses/${name.toLowerCase()}/4.0/`,
    duration: 'for-ever',
    readings: [
      ...places,
      elements.nonCommercial
        ? { key: 'earning', answer: 'no', phrase: NON_COMMERCIAL }
        : yes('earning', 'reproduce and Share the Licensed Material, in whole or in part'),
      // A recording set to moving pictures is adapted material, so this clause decides every video.
      elements.noDerivatives
        ? { key: 'modification', answer: 'no', phrase: NO_DERIVATIVES }
        : yes('modification', ADAPT),
      { key: 'credit', answer: 'duty', phrase: ATTRIBUTION },
      ...(elements.shareAlike
        ? ([{ key: 'share-alike', answer: 'duty', phrase: SHARE_ALIKE }] satisfies Reading[])
        : [yes('share-alike', elements.noDerivatives ? NO_DERIVATIVES : ADAPT)]),
      yes('territory', WORLDWIDE_FOR_EVER),
      yes('duration', WORLDWIDE_FOR_EVER),
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
  ],
}

/** The licences that are read without help, by SPDX identifier. */
export const KNOWN_LICENCES: ReadonlyMap<string, KnownLicence> = new Map(
  [
    ZERO,
    attribution({}),
    attribution({ nonCommercial: true }),
    attribution({ shareAlike: true }),
    attribution({ noDerivatives: true }),
    attribution({ nonCommercial: true, shareAlike: true }),
  ].map((licence) => [licence.spdxId, licence]),
)
