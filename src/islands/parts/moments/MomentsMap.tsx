import { useMemo, useState } from 'react'
import type { Moment, MomentKind } from '../../../core/moments'
import { messages } from '../../../messages'
import { KIND_WORDS } from '../../format/moment-words'
import type { CutActions, CutDesk } from '../../moments/use-cut-desk'
import type { BarPattern } from '../../time-map/draw-marks'
import { MapMarks, type ShownMark } from '../../time-map/MapMarks'
import { TimeMap } from '../../time-map/TimeMap'
import { scaleOf, snapped } from '../../time-map/view'

/** Rows of moments under the map. */
const LANES_MAX = 3
/** A dragged moment goes to what is so near, px. */
const SNAP_PX = 8

/** As the styles of the kinds have them. */
const KIND_PATTERNS: Readonly<Record<MomentKind, BarPattern>> = {
  hit: 'solid',
  swell: 'rising',
  spot: 'striped',
  ambience: 'dotted',
  music: 'lined',
  silence: 'dashed',
}

/** The time map of a cut, with its moments: dragged, they go to frames, shot changes and other moments. */
export function MomentsMap({ cutDesk, actions }: { cutDesk: CutDesk; actions: CutActions }) {
  const { moments, durationS, content, rate, drop, store, player, part, frames, chosenIds, timecode } = cutDesk
  const [drag, setDrag] = useState<{ id: string; byS: number } | null>(null)
  const marks = useMemo(() => moments.map((moment) => markOf(moment, drag, timecode)), [moments, drag, timecode])
  const marksS = useMemo(() => moments.map(({ atS }) => atS), [moments])
  const onDrag = (mark: ShownMark, byS: number, widthPx: number, isEnd: boolean): void => {
    const moment = moments.find(({ id }) => id === mark.id)
    if (!moment) return
    const reachS = SNAP_PX / scaleOf(store.now(), widthPx).pxPerS
    const others = [...content.shotChangesS, ...marksS].filter((timeS) => timeS !== moment.atS)
    const wantedS = Math.max(0, Math.min(durationS, moment.atS + byS))
    const near = snapped(wantedS, others, reachS)
    const atS = near === wantedS ? frames.nearestS(wantedS) : near
    setDrag(isEnd ? null : { id: mark.id, byS: atS - moment.atS })
    if (!isEnd) return
    const { endS } = moment
    actions.change(
      [mark.id],
      () => ({ atS, endS: endS === null ? null : endS + atS - moment.atS }),
      messages.moments.dragAMoment,
    )
    cutDesk.noting.corrected(moment)
  }
  return (
    <TimeMap
      {...{ durationS, content, rate, drop, store, marksS }}
      clock={player.clock}
      span={part}
      onSeek={player.seek}
      onMark={cutDesk.setPart}
      label={messages.moments.timeMapOfTheCut}
    >
      {(map) => (
        <MapMarks
          {...map}
          marks={marks}
          lanesMax={LANES_MAX}
          chosenIds={chosenIds}
          label={messages.moments.momentsOnTheMap}
          onPick={(mark, { shiftKey }) =>
            shiftKey ? cutDesk.choose(new Set([...chosenIds, mark.id]), mark.id) : cutDesk.chooseOne(mark.id)
          }
          onDrag={(mark, byS, isEnd) => onDrag(mark, byS, map.widthPx, isEnd)}
        />
      )}
    </TimeMap>
  )
}

function markOf(
  moment: Moment,
  drag: { id: string; byS: number } | null,
  timecode: (timeS: number) => string,
): ShownMark {
  const { id, atS, endS, words, kind } = moment
  const byS = drag?.id === id ? drag.byS : 0
  const label = words || KIND_WORDS[kind]
  return {
    id,
    startS: atS + byS,
    endS: endS === null ? null : endS + byS,
    label,
    barClass: `moment-${kind}`,
    look: { pattern: KIND_PATTERNS[kind], ink: 'ink' },
    spoken: `${label}, ${KIND_WORDS[kind]}, ${timecode(atS)}${endS === null ? '' : messages.moments.upTo(timecode(endS))}`,
  }
}
