import { useEffect, useMemo, useState } from 'react'
import type { Cut } from '../../contract'
import { frameTimesS } from '../../core/picture'
import { fetchBytes } from '../api/moments-queries'
import type { MapContent } from '../time-map/draw'
import { RemotePeaks } from '../time-map/peaks'
import { RemoteStrip, type StripSource } from '../time-map/strip'
import { cutRate, momentaryOf } from './cut-view'
import { evenFrames, type FrameGrid, unevenFrames } from './frames'

/** Softer tracks are drawn higher by this at most. */
const SCALE_MAX = 12

/** By how much a waveform is drawn higher, so that its tallest place fills the height. */
function waveScale(truePeakDbtp: number | null): number {
  return truePeakDbtp === null ? 1 : Math.max(1, Math.min(SCALE_MAX, 10 ** (-truePeakDbtp / 20)))
}

/** Frames of a cut; those of an uneven one as soon as they are here. */
export function useFrames(cut: Cut): FrameGrid {
  const rate = cutRate(cut)
  const { num, den } = rate
  const even = useMemo(() => evenFrames({ num, den }), [num, den])
  const [uneven, setUneven] = useState<FrameGrid | null>(null)
  const isVariable = cut.picture?.isVariable ?? false
  useEffect(() => {
    if (!isVariable) return
    let isWanted = true
    fetchBytes(`/api/cuts/${cut.id}/frames`).then(
      (bytes) => {
        const times = frameTimesS(new Uint32Array(bytes))
        if (isWanted && times.length > 0) setUneven(unevenFrames(times))
      },
      // Without them frames are counted by the mean.
      () => undefined,
    )
    return () => {
      isWanted = false
    }
  }, [cut.id, isVariable])
  return (isVariable && uneven) || even
}

/** What the time map draws of a cut. */
export function useMapContent(cut: Cut): Omit<MapContent, 'ticks'> {
  const peaks = useMemo(
    () =>
      cut.sound
        ? new RemotePeaks(
            cut.sound.peaks,
            (level, from, count) => fetchBytes(`/api/cuts/${cut.id}/peaks?level=${level}&from=${from}&count=${count}`),
            (startS, endS) => fetchBytes(`/api/cuts/${cut.id}/samples?fromS=${startS}&toS=${endS}`),
            waveScale(cut.sound.truePeakDbtp),
          )
        : null,
    [cut.id, cut.sound],
  )
  const strip = useStrip(cut)
  return useMemo(
    () => ({
      strip,
      aspect: cut.picture ? cut.picture.widthPx / cut.picture.heightPx : 1,
      peaks,
      momentaryLufs: momentaryOf(cut),
      integratedLufs: cut.sound?.integratedLufs ?? null,
      segments: cut.sound?.segments ?? [],
      unexplained: [],
      missing: cut.sound?.missing ?? [],
      shotChangesS: cut.picture?.events.filter(({ kind }) => kind === 'shot-change').map(({ timeS }) => timeS) ?? [],
    }),
    [cut, peaks, strip],
  )
}

/** The small pictures of a cut. */
function useStrip({ id, picture }: Cut): StripSource | null {
  const pieces = picture?.strip
  return useMemo(() => {
    if (!pieces || pieces.length === 0) return null
    const timesS = pieces.map(({ timeS }) => timeS)
    return new RemoteStrip(timesS, (index) => imageAt(`/api/cuts/${id}/strip?at=${index}`))
  }, [id, pieces])
}

async function imageAt(url: string): Promise<HTMLImageElement> {
  const image = new Image()
  image.src = url
  await image.decode()
  return image
}
