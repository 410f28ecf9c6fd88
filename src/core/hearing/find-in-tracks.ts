import { expandedTrack } from './compact'
import { PRIOR_FALSE_POSITIVE_RATE, scoreThreshold } from './confidence'
import { HEARING_RATE_HZ } from './constants'
import { preparedWindow, trackWindows } from './correlate'
import { type Detection, finalDetections } from './detections'
import { searchPlan } from './plan'
import type { PreparedSound } from './prepare'
import { TreatedSearcher } from './processed'
import { Searcher } from './search'

/** A checked track as it was stored. */
export interface StoredTrack<Key> {
  readonly key: Key
  /** As `compactTrack` made it. */
  readonly bytes: Uint8Array
}

/**
 * Looks for one sound, with full sensitivity, in stored tracks: for instance a new sound in all old videos.
 *
 * Works lazily, a track at a time, so that the caller can stop, show progress and read tracks from disk as they are wanted.
 *
 * @throws {CompactError} compact-damaged, compact-outdated, when it comes to a track that cannot be used.
 */
export function* findInTracks<Key>(
  sound: PreparedSound,
  tracks: Iterable<StoredTrack<Key>>,
): Generator<{ readonly key: Key; readonly detections: readonly Detection[] }> {
  const searcher = new Searcher()
  const treated = new TreatedSearcher(searcher.correlator, searcher.cells)
  for (const { key, bytes } of tracks) {
    const track = expandedTrack(bytes)
    const durationS = track.frames / HEARING_RATE_HZ
    const plan = searchPlan(scoreThreshold({ soundCount: 1, durationS }), true)
    const raw = trackWindows(track.frames).flatMap((range) => {
      // One window at a time: memory does not grow with the length of the track.
      const windows = [preparedWindow(track, range, searcher.correlator.kernel)]
      const plain = searcher.search(track, windows, [sound], plan)
      return [...plain, ...treated.search(track, windows, [sound], { plain, scoreMin: plan.scoreMin })]
    })
    const detections = finalDetections(raw, [sound], {
      durationS,
      soundCount: 1,
      chance: PRIOR_FALSE_POSITIVE_RATE,
      groups: [],
    })
    yield { key, detections }
  }
}
