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
  online: 'Online',
  'paid-advertising': 'Paid advertising',
  'client-work': 'Client work',
  broadcast: 'Broadcast',
  cinema: 'Cinema and festivals',
  game: 'Game or app',
  'audio-only': 'Audio only',
  internal: 'Internal or teaching',
}

/** Names of all clauses. */
export const CLAUSE_WORDS: Readonly<Record<ClauseKey, string>> = {
  ...USE_PLACE_WORDS,
  earning: 'A video that earns',
  modification: 'Cutting and mixing under a picture',
  credit: 'Credit',
  'share-alike': 'Same licence for the video',
  territory: 'Territory',
  duration: 'How long it holds',
  standalone: 'Passing the sound on by itself',
  transfer: 'Handing the video to a client',
  projects: 'Number of videos',
  audience: 'Size of the audience',
  platforms: 'Platforms',
  registration: 'Registering the video',
  proof: 'Proof',
  seats: 'People who work with it',
  'video-length': 'Length of the video',
}

/** One line that says where a video goes: "Online, broadcast; earns; worldwide". */
export function usesInWords(uses: Uses): string {
  const places = uses.places.map((place, index) =>
    index === 0 ? USE_PLACE_WORDS[place] : USE_PLACE_WORDS[place].toLowerCase(),
  )
  const territory = uses.territory === 'worldwide' ? 'worldwide' : uses.territory.split(',').join(', ')
  const publisher = uses.publisher === 'client' ? ['published by a client'] : []
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
