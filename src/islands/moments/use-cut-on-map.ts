import { useCallback, useState } from 'react'
import type { Cut } from '../../contract'
import { shortTimecode } from '../../core/formats/timecode'
import type { TimeRange } from '../../core/time-range'
import { useFollow, useMapView } from '../time-map/TimeMap'
import { cutDrops, cutDurationS, cutRate } from './cut-view'
import { useFrames, useMapContent } from './use-cut'
import { useCutPlayer } from './use-cut-player'

/** A cut as it plays, with its time map and the part of it that is marked. */
export function useCutOnMap(cut: Cut) {
  const durationS = cutDurationS(cut)
  const rate = cutRate(cut)
  const drop = cutDrops(cut)
  const [part, setPart] = useState<TimeRange | null>(null)
  const frames = useFrames(cut)
  const player = useCutPlayer(frames, part, cut.id)
  const store = useMapView(durationS)
  useFollow(store, player.clock, durationS, player.isPlaying)
  const content = useMapContent(cut)
  const timecode = useCallback((timeS: number) => shortTimecode(timeS, rate, drop), [rate, drop])
  return { durationS, rate, drop, part, setPart, frames, player, store, content, timecode }
}
