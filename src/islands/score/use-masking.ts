import { useState } from 'react'
import type { MaskingAnswer, MaskingWire } from '../../contract'
import type { Placement, Score } from '../../core/score'
import { messages } from '../../messages'
import { useMeasureMasking } from '../api/score-queries'

/** What covers the voice, and what the voice covers, as far as it is known. */
export interface MaskingDesk {
  /** By placement; only of those that are as they were when it was measured. */
  readonly byId: ReadonlyMap<string, MaskingWire>
  readonly isMeasured: boolean
  /** Whether something was changed since: then it is known of the others only. */
  readonly isOutdated: boolean
  readonly isVoiceHeard: boolean
  /** How many placed sounds could not be compared at all, and how many only in part. */
  readonly notCompared: number
  readonly inPart: number
  readonly isPending: boolean
  readonly error: Error | null
  /** @param revision That is saved, and is shown. */
  measure(revision: number): void
}

interface Measured {
  readonly score: Score
  readonly answer: MaskingAnswer
}

/** @param score As it is saved when `measure` is called. */
export function useMasking(videoId: number, score: Score): MaskingDesk {
  const query = useMeasureMasking(videoId)
  const [measured, setMeasured] = useState<Measured | null>(null)
  const [isOfAnother, setIsOfAnother] = useState(false)
  return {
    byId: measured ? stillTrue(measured, score) : new Map(),
    isMeasured: measured !== null,
    isOutdated: measured !== null && measured.score !== score,
    isVoiceHeard: measured?.answer.isVoiceHeard ?? true,
    notCompared: measured?.answer.notHere.length ?? 0,
    inPart: measured?.answer.cutShort.length ?? 0,
    isPending: query.isPending,
    error: isOfAnother ? new Error(messages.score.whatIsPlacedWasChangedInAnother) : query.error,
    measure: (revision) =>
      query.mutate(undefined, {
        onSuccess: (answer) => {
          // What another tab saved meanwhile is not what is shown here.
          setIsOfAnother(answer.revision !== revision)
          setMeasured(answer.revision === revision ? { score, answer } : null)
        },
      }),
  }
}

/** What was measured of placements that did not change since, on layers that did not either. */
export function stillTrue({ score: then, answer }: Measured, now: Score): Map<string, MaskingWire> {
  const before = new Map(then.placements.map((one) => [one.id, one]))
  const isSame = (placement: Placement): boolean => {
    const layerOf = ({ layers }: Score) => layers.find(({ id }) => id === placement.layerId)
    return before.get(placement.id) === placement && layerOf(then) === layerOf(now)
  }
  const same = new Set(now.placements.filter(isSame).map(({ id }) => id))
  return new Map(answer.places.filter(({ id }) => same.has(id)).map((one) => [one.id, one]))
}
