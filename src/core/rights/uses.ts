import { rights as messages } from '../wording/rights'
import type { ClauseKey, UsePlace } from './terms'

/** Where, how and when a video is published. */
export interface Uses {
  /** At least one. */
  readonly places: readonly UsePlace[]
  /** Whether the video earns: adverts, sponsors, membership, sale. */
  readonly earns: boolean
  /** "worldwide", or ISO 3166-1 alpha-2 codes joined by commas. */
  readonly territory: string
  /** Day of publication, YYYY-MM-DD, or null while it is not set. */
  readonly publishOn: string | null
  /** SPDX identifier of the open licence that the video itself is published under, or null. */
  readonly videoLicence: string | null
  /** Names of the platforms that it is published on; empty while none is named. */
  readonly platforms?: readonly string[]
  /** How many people are expected to see it, or null while nobody said. */
  readonly audience?: number | null
  /** How many people work with the sounds, or null while nobody said. */
  readonly seats?: number | null
  /** Who publishes it: the one who holds the licences, or a client that it is handed to. */
  readonly publisher?: 'licensee' | 'client'
}

/** Names of the use places as the interface shows them. */
export const USE_PLACE_WORDS: Readonly<Record<UsePlace, string>> = {
  online: messages.online,
  'paid-advertising': messages.paidAdvertising,
  'client-work': messages.clientWork,
  broadcast: messages.broadcast,
  cinema: messages.cinemaAndFestivals,
  game: messages.gameOrApp,
  'audio-only': messages.audioOnly,
  internal: messages.internalOrTeaching,
}

/** Names of all clauses. */
export const CLAUSE_WORDS: Readonly<Record<ClauseKey, string>> = {
  ...USE_PLACE_WORDS,
  earning: messages.aVideoThatEarns,
  modification: messages.cuttingAndMixingUnderPicture,
  credit: messages.credit,
  'share-alike': messages.sameLicenceForTheVideo,
  territory: messages.territory,
  duration: messages.howLongItHolds,
  standalone: messages.passingSoundOnByItself,
  transfer: messages.handingVideoClient,
  projects: messages.numberOfVideos,
  audience: messages.sizeOfTheAudience,
  platforms: messages.platforms,
  registration: messages.registeringTheVideo,
  proof: messages.proof,
  seats: messages.peopleWhoWorkWithIt,
  'video-length': messages.lengthOfTheVideo,
}

/** One line that says where a video goes: "Online, broadcast; earns; worldwide". */
export function usesInWords(uses: Uses): string {
  const places = uses.places.map((place, index) =>
    index === 0 ? USE_PLACE_WORDS[place] : USE_PLACE_WORDS[place].toLowerCase(),
  )
  const territory = uses.territory === 'worldwide' ? 'worldwide' : uses.territory.split(',').join(', ')
  const publisher = uses.publisher === 'client' ? [messages.publishedByAClient] : []
  return [places.join(', '), uses.earns ? 'earns' : 'unpaid', territory, ...publisher].join(' · ')
}

/** Whether the finished video is handed to a client. */
export function isForClient(uses: Uses): boolean {
  return uses.places.includes('client-work') || uses.publisher === 'client'
}

/** Whether publishing this way brings money in, whatever the earning switch says. */
export function isEarningUse(uses: Uses): boolean {
  return uses.earns || uses.places.includes('paid-advertising') || isForClient(uses)
}
