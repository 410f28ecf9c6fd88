import { useCallback, useMemo, useState } from 'react'
import type { Cut, Video, VideoMoments } from '../../contract'
import { voiceLoudness } from '../../core/mix'
import type { Moment } from '../../core/moments'
import { oneThing, type ScoreEdit, ScoreError, usedSounds, wholeBeds } from '../../core/score'
import { useSoundsById } from '../api/score-queries'
import { useCutOnMap } from '../moments/use-cut-on-map'
import { useMasking } from './use-masking'
import { useMixPlayer } from './use-mix-player'
import type { ScoreDesk } from './use-score'

/** Everything that the step shows and does. */
export type PlaceDesk = ReturnType<typeof usePlaceDesk>

/** The cut as it plays with what is placed, which of it is chosen, and what can be done with it. */
export function usePlaceDesk(video: Video, cut: Cut, planned: VideoMoments, desk: ScoreDesk) {
  const score = desk.state.history.document
  const { moments } = planned.document
  const shown = useCutOnMap(cut)
  const { player, content } = shown
  const [pickedIds, setChosenIds] = useState<ReadonlySet<string>>(new Set())
  const [stemId, setStemId] = useState<string | null>(null)
  const [layerId, setLayerId] = useState<string | null>(null)
  const [refusal, setRefusal] = useState<string | null>(null)
  const soundIds = useMemo(
    () =>
      allSoundIds(
        [
          ...usedSounds(score).map(({ audio }) => audio.soundId),
          ...score.placements.flatMap(({ bed }) => (bed ? [bed.soundId] : [])),
        ],
        moments,
      ),
    [score, moments],
  )
  const sounds = useSoundsById(soundIds)
  const speech = useMemo(() => (cut.sound?.segments ?? []).filter(({ kind }) => kind === 'speech'), [cut])
  const voiceLufs = useMemo(() => voiceLoudness(content.momentaryLufs, speech), [content, speech])
  const mix = useMixPlayer(player, score, { sounds, speech })
  const masking = useMasking(video.id, score)
  // A bed is one thing: with one stem or part of it all are chosen.
  const chosen = useMemo(
    () =>
      wholeBeds(
        score,
        score.placements.filter(({ id }) => pickedIds.has(id)),
      ),
    [score, pickedIds],
  )
  const chosenIds = useMemo(() => new Set(chosen.map(({ id }) => id)), [chosen])
  /** Of a chosen bed the stem or part whose line is shown; of a chosen sound itself. */
  const stem = oneThing(chosen) && (chosen.find(({ id }) => id === stemId) ?? chosen[0] ?? null)
  const edit = useCallback(
    (make: () => ScoreEdit, words: string): boolean => {
      try {
        const refused = desk.edit(make(), words)
        setRefusal(refused)
        return refused === null
      } catch (error) {
        if (!(error instanceof ScoreError)) throw error
        setRefusal(error.message)
        return false
      }
    },
    [desk],
  )
  return {
    video,
    cut,
    planned,
    desk,
    score,
    moments,
    ...shown,
    chosenIds,
    setChosenIds,
    stem,
    setStemId,
    layerId,
    setLayerId,
    refusal,
    setRefusal,
    sounds,
    speech,
    voiceLufs,
    mix,
    masking,
    chosen,
    edit,
  }
}

function allSoundIds(placed: readonly (number | null)[], moments: readonly Moment[]): number[] {
  const wanted = moments.flatMap(({ soundId, shortList }) => [soundId, ...shortList.map((one) => one.soundId)])
  return [...new Set([...placed, ...wanted].filter((id) => id !== null))]
}
