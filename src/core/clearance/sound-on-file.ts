import type { Papers } from '../rights'

/** A sound as the decision needs it. */
export interface SoundOnFile {
  readonly soundId: number
  readonly title: string
  readonly maker: string
  readonly sourceName: string
  readonly isFromLibrary: boolean
  /** SHA-256 of its audio as it is now; null while none was fetched. */
  readonly contentSha256: string | null
  /** A file of it is here, or was. */
  readonly hasCopy: boolean
  /** Sounds that are the same recording, without this one. */
  readonly sameRecordingIds: readonly number[]
  /** The stems that it was found to be the sum of; none where they are not all of it, or were not held against it. */
  readonly stemIds: readonly number[]
  /** The entry that it is a part of and was found to lie in. */
  readonly wholeId: number | null
  /** When its audio became another one: from which content to which, and on which day. */
  readonly changes: readonly { readonly fromSha256: string; readonly toSha256: string; readonly on: string }[]
  /** The papers that a copy acquired now would come under; null where it cannot be had. */
  readonly offered: Papers | null
  /** It is sold in tiers. */
  readonly isSold: boolean
}
