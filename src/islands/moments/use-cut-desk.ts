import { useCallback, useMemo, useState } from 'react'
import { useLocation, useSearch } from 'wouter'
import type { Cut, SuggestionList, Video, VideoMoments } from '../../contract'
import { stemsOf } from '../../core/finding'
import { frameS } from '../../core/formats/timecode'
import {
  cutSignals,
  loudnessAround,
  type Moment,
  type MomentValues,
  newMoment,
  type PlaceForSound,
  pacing,
  placeOfMoment,
  shiftedAfter,
} from '../../core/moments'
import { messages } from '../../messages'
import { useOfferUndo } from '../state/undo'
import { findAddress } from './find-for-moment'
import { newId } from './new-id'
import { useCutOnMap } from './use-cut-on-map'
import type { MomentsDesk } from './use-moments'
import { useNoting } from './use-noting'

/** Everything that the page of a cut shows and does. */
export type CutDesk = ReturnType<typeof useCutDesk>

/** The cut as it plays, its moments, which of them are chosen, and what can be done with them. */
export function useCutDesk(video: Video, cut: Cut, loaded: VideoMoments, desk: MomentsDesk) {
  const { document } = desk.state.history
  const { moments } = document
  const shown = useCutOnMap(cut)
  const { durationS, frames, player, content } = shown
  const noting = useNoting(desk, player, frames)
  const choice = useChoice(desk, player.seek)
  const { chosenIds } = choice
  const chosen = useMemo(() => moments.filter(({ id }) => chosenIds.has(id)), [moments, chosenIds])
  const current = moments.find(({ id }) => id === choice.currentId) ?? null
  const placeOf = useCallback(
    (moment: Moment): PlaceForSound =>
      placeOfMoment(moment, [...moments.map(({ atS }) => atS), ...content.shotChangesS], {
        durationS,
        cutLufs: loudnessAround(content.momentaryLufs, moment.atS),
      }),
    [moments, content, durationS],
  )
  const paced = useMemo(
    () =>
      pacing(
        document,
        { ...cutSignals(cut), durationS },
        { stems: stemsOf, soundTitle: (id) => loaded.soundTitles[String(id)] ?? messages.moments.aSound },
      ),
    [document, cut, durationS, loaded.soundTitles],
  )
  return {
    video,
    cut,
    loaded,
    desk,
    document,
    moments,
    ...shown,
    noting,
    ...choice,
    chosen,
    current,
    placeOf,
    paced,
  }
}

/** Which moments are chosen, and which is the one that keys move from. */
function useChoice(desk: MomentsDesk, seek: (timeS: number) => void) {
  // Coming back from Find, the moment is chosen for which sounds were looked.
  const asked = new URLSearchParams(useSearch()).get('moment')
  const [chosenIds, setChosenIds] = useState<ReadonlySet<string>>(new Set(asked ? [asked] : []))
  const [currentId, setCurrentId] = useState<string | null>(asked)
  const [notingId, setNotingId] = useState<string | null>(null)
  const choose = useCallback(
    (ids: ReadonlySet<string>, id: string) => {
      setChosenIds(ids)
      setCurrentId(id)
      const moment = desk.store.now().history.document.moments.find((one) => one.id === id)
      if (moment && ids.size === 1) seek(moment.atS)
    },
    [desk, seek],
  )
  const chooseOne = useCallback((id: string) => choose(new Set([id]), id), [choose])
  return { chosenIds, setChosenIds, currentId, setCurrentId, notingId, setNotingId, choose, chooseOne }
}

/** What can be done with the moments of a cut. */
export type CutActions = ReturnType<typeof useCutActions>

export function useCutActions(cutDesk: CutDesk) {
  const { desk, moments, chosen, chosenIds, frames, player, noting, part, document, rate } = cutDesk
  const [, navigate] = useLocation()
  const offerUndo = useOfferUndo()
  const change = useCallback(
    (ids: readonly string[], to: (moment: Moment) => Partial<MomentValues>, words: string) => {
      const all = desk.store.now().history.document.moments
      const changes = ids.flatMap((id) => {
        const moment = all.find((one) => one.id === id)
        return moment ? [{ id, to: to(moment) }] : []
      })
      desk.edit({ do: 'change', changes }, words)
    },
    [desk],
  )
  return {
    change,
    remove: (ids: ReadonlySet<string>): void => {
      if (ids.size === 0) return
      desk.edit({ do: 'remove', ids: [...ids] }, messages.moments.removeMoments)
      cutDesk.setChosenIds(new Set())
      offerUndo(
        ids.size === 1 ? messages.moments.aMomentWasRemoved : messages.moments.momentsWereRemoved(ids.size),
        () => desk.store.undo(),
      )
    },
    nudge: (by: number): void => {
      const moved = (timeS: number): number => frames.startS(Math.max(0, frames.at(timeS + 0.0005) + by))
      change(
        [...chosenIds],
        ({ atS, endS }) => ({ atS: moved(atS), endS: endS === null ? null : moved(endS) }),
        messages.moments.moveByFrames,
      )
      for (const moment of chosen) noting.corrected(moment)
      const [only] = chosen
      if (only && chosen.length === 1) player.seek(moved(only.atS))
    },
    note: (): void => {
      const id = noting.note(part)
      if (id === null) return
      cutDesk.setPart(null)
      cutDesk.setNotingId(id)
      cutDesk.setChosenIds(new Set([id]))
      cutDesk.setCurrentId(id)
    },
    toNeighbour: (by: 1 | -1): void => {
      const nowS = player.clock.now()
      const next =
        by > 0
          ? moments.find(({ atS }) => atS > nowS + frameS(rate))
          : [...moments].reverse().find(({ atS }) => atS < nowS - frameS(rate))
      if (next) cutDesk.chooseOne(next.id)
    },
    findAddressOf: (moment: Moment): string => findAddress(cutDesk.video.id, moment, cutDesk.placeOf(moment)),
    goToFind: (): void => {
      const { current } = cutDesk
      if (current) navigate(findAddress(cutDesk.video.id, current, cutDesk.placeOf(current)))
    },
    shiftAfter: (fromS: number, byS: number) =>
      desk.edit(shiftedAfter(document, { fromS, byS }), messages.moments.moveAllFromHereOn),
    takeSuggestion: (one: SuggestionList['suggestions'][number]): void => {
      const id = takeSuggestion(desk, one)
      if (id) cutDesk.chooseOne(id)
    },
    dismiss: (some: SuggestionList['suggestions']): void => {
      const suggestions = some.map(({ kind, atS }) => ({ kind, atS }))
      desk.edit({ do: 'dismiss', suggestions }, messages.moments.dismissSuggestions)
      void desk.store.flush()
    },
  }
}

/** Makes a moment of a suggestion; a habit gives the sound to the moment that is there. @returns The moment's id, or null. */
function takeSuggestion(desk: MomentsDesk, one: SuggestionList['suggestions'][number]): string | null {
  const { document } = desk.state.history
  if (one.kind === 'habit' && one.soundId !== null) {
    const moment = document.moments.find(({ atS, words }) => atS === one.atS && words === one.words)
    if (!moment) return null
    desk.edit(
      { do: 'change', changes: [{ id: moment.id, to: { soundId: one.soundId } }] },
      messages.moments.takeTheUsualSound,
    )
    return moment.id
  }
  const shortList =
    one.soundId === null ? [] : [{ slot: 'A' as const, soundId: one.soundId, reason: messages.moments.asUsual }]
  const moment = newMoment(newId(), one.atS, {
    endS: one.endS,
    words: one.words,
    kind: one.momentKind,
    weight: 'nice',
    shortList,
  })
  desk.edit({ do: 'add', moments: [moment] }, messages.moments.takeASuggestion)
  void desk.store.flush()
  return moment.id
}
