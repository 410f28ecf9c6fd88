import type { HeardPlaceWire, ScoreImported, SoundDetail } from '../../contract'
import { suggestedGainDb } from '../../core/mix'
import type { Moment } from '../../core/moments'
import {
  type AssemblyPiece,
  addedWithLayers,
  changedSafely,
  duplicatedBed,
  hitTimeS,
  layerFor,
  layerName,
  linedUp,
  moved,
  newLayer,
  newPlacement,
  oneThing,
  type Placement,
  type PlacementValues,
  placedAnywhere,
  placedAt,
  placedForMoment,
  placementEndS,
  placementLengthS,
  replaced,
  roleOfKind,
  type ScoreEdit,
  ScoreError,
  type SourceFacts,
  scoreWithEdit,
  splitBed,
  trimmedBed,
  wholeBeds,
  withBreakPoint,
  withPieces,
  withSafeEnds,
} from '../../core/score'
import { messages } from '../../messages'
import { useShell } from '../api/queries'
import { useFetchSound } from '../api/score-queries'
import { newId } from '../moments/new-id'
import { useOfferUndo } from '../state/undo'
import { lineBounds, type PointLine } from './print-handles'
import { audioOf, sourceFacts } from './source-facts'
import { useBedActions } from './use-bed-actions'
import type { PlaceDesk } from './use-score-desk'

/** What can be done with what is placed. */
export type PlaceActions = ReturnType<typeof usePlaceActions>

export function usePlaceActions(placeDesk: PlaceDesk) {
  const { score, moments, chosen, sounds, edit, player, frames, setChosenIds, desk, voiceLufs } = placeDesk
  const offerUndo = useOfferUndo()
  const levels = useShell().data?.levelsToVoiceLu
  const fetchSound = useFetchSound()
  /** A sound that is not among those of the step yet; null where it cannot be had, which is said. */
  const soundBy = async (id: number): Promise<SoundDetail | null> => {
    const known = sounds.get(id)
    if (known) return known
    try {
      return await fetchSound(id)
    } catch (error) {
      placeDesk.setRefusal(error instanceof Error ? error.message : String(error))
      return null
    }
  }
  const sourceOf = (placement: Placement): SourceFacts => {
    const sound = placement.audio.soundId === null ? undefined : sounds.get(placement.audio.soundId)
    return sound ? sourceFacts(sound) : { durationS: placement.toS, hitS: placement.hitS, isLoudAt: () => true }
  }
  const only = oneThing(chosen)
  const bedActions = useBedActions(placeDesk, soundBy)
  const choose = (id: string): void => {
    setChosenIds(new Set([id]))
    placeDesk.setLayerId(null)
  }
  const change = (values: (placement: Placement) => Partial<PlacementValues>, words: string): boolean =>
    edit(() => ({ do: 'change', changes: chosen.map((one) => ({ id: one.id, to: values(one) })) }), words)
  const changeSafely = (values: (placement: Placement) => Partial<PlacementValues>, words: string): boolean =>
    edit(() => allAtOnce(chosen.map((one) => changedSafely(one, values(one), sourceOf(one)))), words)
  /** Of a bed one stem or part alone is changed. */
  const changeStem = (stem: Placement, values: () => Partial<PlacementValues>, words: string): boolean =>
    edit(() => changedSafely(stem, values(), sourceOf(stem)), words)
  /** Puts another sound in the place of what is chosen; a bed is one thing for that. */
  const replaceBy = (first: Placement, sound: SoundDetail, words: string): boolean =>
    edit(() => {
      const others = chosen.filter(({ id }) => id !== first.id)
      const alone: Placement = { ...first, bed: null }
      return {
        do: 'all',
        edits: [
          { do: 'remove', ids: others.map(({ id }) => id) },
          { do: 'change', changes: [{ id: first.id, to: { bed: null } }] },
          replaced(alone, { audio: audioOf(sound), source: sourceFacts(sound) }),
        ],
      }
    }, words)
  const bedOf = (placement: Placement): Placement[] => wholeBeds(score, [placement])
  const trimmedTo = (placement: Placement, end: 'start' | 'end', toVideoS: number): ScoreEdit =>
    trimmedBed(bedOf(placement), { end, toVideoS, sourceOf })
  /** Seconds from the start of the chosen sound to the playhead. */
  const playheadIn = (placement: Placement): number => player.clock.now() - placement.startS
  return {
    choose,
    change,
    changeSafely,
    changeStem,
    bed: bedActions,
    /** Puts a point on a line at the playhead: on the line as it runs, to be moved from there. */
    addPoint: (which: PointLine): void => {
      const { stem } = placeDesk
      if (stem)
        changeStem(
          stem,
          () => ({ [which]: withBreakPoint(stem[which], { atS: playheadIn(stem) }, lineBounds(stem, which)) }),
          messages.score.addAPoint,
        )
    },
    /** A fade from the start to the playhead, or from the playhead to the end. */
    fadeHere: (end: 'fadeIn' | 'fadeOut'): void => {
      if (!only) return
      const insideS = end === 'fadeIn' ? playheadIn(only) : placementEndS(only) - player.clock.now()
      const roomS = placementLengthS(only) - ((end === 'fadeIn' ? only.fadeOut : only.fadeIn)?.lengthS ?? 0)
      const lengthS = Math.min(roomS, insideS)
      if (!(lengthS > 0)) {
        placeDesk.setRefusal(messages.score.thePlayheadIsNotWithin)
        return
      }
      const curve = only[end]?.curve ?? 'equal-power'
      changeSafely(() => ({ [end]: { lengthS, curve, isAutomatic: false } }), messages.score.fade)
    },
    /** Places a sound that was dropped or found, at a time and on a layer. */
    placeSound: async (
      soundId: number,
      { atS = player.clock.now(), layerId = null }: { readonly atS?: number; readonly layerId?: string | null } = {},
    ): Promise<void> => {
      const sound = await soundBy(soundId)
      if (!sound) return
      const id = newId()
      const kind = sound.kind === 'music' ? 'music' : 'spot'
      const role =
        layerId === null ? roleOfKind(kind) : (score.layers.find((one) => one.id === layerId)?.role ?? 'effects')
      const done = edit(
        () =>
          placedAnywhere(score, {
            atS,
            audio: audioOf(sound),
            source: sourceFacts(sound),
            layerId,
            role,
            gainDb: suggestedGainDb(role === 'ambience' ? 'ambience' : kind, sound.loudnessLufs, voiceLufs, levels),
            ids: { placement: id, layer: newId() },
          }).edit,
        messages.score.placeSound(sound.title),
      )
      if (done) choose(id)
    },
    /** Places what was recorded, from where something is heard in it. @returns Whether it is placed. */
    placeRecording: async (
      soundId: number,
      part: { readonly startS: number; readonly fromS: number; readonly toS: number },
    ): Promise<boolean> => {
      const sound = await soundBy(soundId)
      if (!sound) return false
      const layer = layerFor(score, 'effects') ?? newLayer(newId(), layerName('effects'), 'effects')
      const { startS, fromS, toS } = part
      const placement = withSafeEnds(
        newPlacement(newId(), { layerId: layer.id, audio: audioOf(sound), startS, toS }, { fromS, hitS: sound.hitS }),
        sourceFacts(sound),
      )
      const isNew = !score.layers.includes(layer)
      const done = edit(
        () => addedWithLayers(score, isNew ? [layer] : [], [placement]),
        messages.score.placeSound(sound.title),
      )
      if (done) choose(placement.id)
      return done
    },
    /** Puts any sound in the place of the chosen one, and keeps everything else. */
    replaceWith: async (soundId: number): Promise<void> => {
      const sound = await soundBy(soundId)
      if (!only || !sound) return
      replaceBy(only, sound, messages.score.replaceBy(sound.title))
    },
    place: (moment: Moment, sound: SoundDetail): void => {
      const id = newId()
      const done = edit(
        () =>
          placedForMoment(score, {
            moment,
            audio: audioOf(sound),
            source: sourceFacts(sound),
            gainDb: suggestedGainDb(moment.kind, sound.loudnessLufs, voiceLufs, levels),
            ids: { placement: id, layer: newId() },
          }).edit,
        messages.score.placeSound(sound.title),
      )
      if (done) choose(id)
    },
    move: (placements: readonly Placement[], byS: number): void => {
      if (placements.length > 0) edit(() => moved(placements, byS), messages.score.move)
    },
    nudgeFrames: (by: number): void => {
      const [first] = chosen
      if (!first) return
      const atS = hitTimeS(first) ?? first.startS
      edit(
        () => moved(chosen, frames.startS(Math.max(0, frames.at(atS + 0.0005) + by)) - atS),
        messages.score.moveByFrames,
      )
    },
    nudgeMs: (by: number): void => {
      if (chosen.length > 0) edit(() => moved(chosen, by / 1000), messages.score.moveByMilliseconds)
    },
    /** How a placement would be with an end dragged to a time; as it is where that cannot be. */
    trimmedTo: (placement: Placement, end: 'start' | 'end', toVideoS: number): Placement => {
      try {
        return (
          scoreWithEdit(score, trimmedTo(placement, end, toVideoS)).document.placements.find(
            ({ id }) => id === placement.id,
          ) ?? placement
        )
      } catch (error) {
        if (error instanceof ScoreError) return placement
        throw error
      }
    },
    trim: (placement: Placement, end: 'start' | 'end', toVideoS: number): boolean =>
      edit(() => trimmedTo(placement, end, toVideoS), messages.score.trim),
    trimHere: (end: 'start' | 'end'): void => {
      if (only) edit(() => trimmedTo(only, end, player.clock.now()), messages.score.trim)
    },
    focusOn: (placements: readonly Placement[]): void => {
      const [first] = placements
      if (!first) return
      setChosenIds(new Set(placements.map(({ id }) => id)))
      placeDesk.setLayerId(null)
      player.seek(first.startS)
    },
    muteAll: (placements: readonly Placement[], isMuted: boolean): void => {
      edit(
        () => ({ do: 'change', changes: placements.map(({ id }) => ({ id, to: { isMuted } })) }),
        isMuted ? messages.score.mute : messages.score.unmute,
      )
    },
    /** Chooses the next one too, or the one before, in the order of time. */
    alsoNeighbour: (by: 1 | -1): void => {
      const ids = score.placements.map(({ id }) => id)
      const ends = chosen.map(({ id }) => ids.indexOf(id))
      const next = ids[by > 0 ? Math.max(-1, ...ends) + 1 : Math.min(ids.length, ...ends) - 1]
      if (next !== undefined) setChosenIds(new Set([...chosen.map(({ id }) => id), next]))
    },
    chooseAll: (): void => setChosenIds(new Set(score.placements.map(({ id }) => id))),
    /** @returns Whether it could be done. */
    addRead: ({ layers, placements }: ScoreImported): boolean =>
      edit(() => addedWithLayers(score, layers, placements), messages.score.placeFromAList),
    addHeard: (places: readonly HeardPlaceWire[]): void => {
      const layer = layerFor(score, 'effects') ?? newLayer(newId(), layerName('effects'), 'effects')
      const placements = places.map((place) => placedAsHeard(newId(), layer.id, place))
      const isNew = !score.layers.includes(layer)
      edit(() => addedWithLayers(score, isNew ? [layer] : [], placements), messages.score.placeWhatWasHeard)
    },
    setPieces: (id: string, pieces: readonly AssemblyPiece[]): void => {
      const placement = score.placements.find((one) => one.id === id)
      if (placement)
        edit(
          () => allAtOnce(bedOf(placement).map((one) => withPieces(one, pieces, sourceOf(one)))),
          messages.score.giveItALength,
        )
    },
    stretchTo: (id: string, lengthS: number): void => {
      const placement = score.placements.find((one) => one.id === id)
      if (!placement) return
      const rate = (placement.toS - placement.fromS) / lengthS
      const { startS } = placedAt({ ...placement, assembly: null, rate }, hitTimeS(placement) ?? placement.startS)
      edit(
        () => ({ do: 'change', changes: [{ id, to: { assembly: null, rate, keepsPitch: true, startS } }] }),
        messages.score.stretch,
      )
    },
    louder: (byDb: number): void => {
      if (chosen.length > 0)
        change(({ gainDb }) => ({ gainDb: gainDb + byDb }), byDb > 0 ? messages.score.louder : messages.score.softer)
    },
    mute: (): void => {
      if (chosen.length > 0) change(({ isMuted }) => ({ isMuted: !isMuted }), messages.score.mute)
    },
    splitHere: (): void => {
      if (!only) return
      const ids = chosen.map(newId)
      edit(() => splitBed(chosen, { atS: player.clock.now(), ids, bedId: newId() }), messages.score.split)
    },
    duplicate: (): void => {
      const [id = '', ...ids] = chosen.map(newId)
      if (only && edit(() => duplicatedBed(chosen, { ids: [id, ...ids], bedId: newId() }), messages.score.duplicate))
        choose(id)
    },
    /** Another of its hits is the one that meets what it is lined up with; that stays where it is. */
    meetWith: (hitRepeat: number): void => {
      if (!only) return
      const atS = hitTimeS(only)
      change(
        (one) => ({ hitRepeat, startS: atS === null ? one.startS : placedAt({ ...one, hitRepeat }, atS).startS }),
        messages.score.chooseAHit,
      )
    },
    lineUp: (): void => {
      if (chosen.length > 0) edit(() => linedUp(chosen, { moments }), messages.score.lineUp)
    },
    swap: (slot: string): void => {
      const { target } = only ?? {}
      if (!only || target?.kind !== 'moment') return
      const moment = moments.find(({ id }) => id === target.momentId)
      const listed = moment?.shortList.find((one) => one.slot === slot)
      const sound = listed && sounds.get(listed.soundId)
      if (sound) replaceBy(only, sound, messages.score.swapFor(sound.title))
    },
    remove: (): void => {
      if (chosen.length === 0) return
      if (!edit(() => ({ do: 'remove', ids: chosen.map(({ id }) => id) }), messages.common.remove)) return
      setChosenIds(new Set())
      offerUndo(only ? messages.score.aSoundWasRemoved : messages.score.soundsWereRemoved(chosen.length), () =>
        desk.store.undo(),
      )
    },
    toNeighbour: (by: 1 | -1): void => {
      const { placements } = score
      const ends = chosen.map(({ id }) => placements.findIndex((one) => one.id === id))
      const at = by > 0 ? Math.max(-1, ...ends) : Math.min(placements.length, ...ends)
      const next = placements[at + by]
      if (!next) return
      choose(next.id)
      player.seek(hitTimeS(next) ?? next.startS)
    },
  }
}

/** Changes of several placements as one: what is changed of one stem by its name is not changed again by way of another. */
function allAtOnce(edits: readonly (ScoreEdit & { readonly do: 'change' })[]): ScoreEdit {
  return { do: 'change', changes: edits.flatMap(({ changes }) => changes) }
}

/** What was heard as it would be placed to sound so. */
function placedAsHeard(id: string, layerId: string, place: HeardPlaceWire): Placement {
  const { soundId, audioSha256, isCopy, startS, fromS, toS, speed, gainDb } = place
  const audio: Placement['audio'] = isCopy
    ? { kind: 'copy', sha256: audioSha256, soundId }
    : { kind: 'preview', soundId }
  const isLoudAt = (atS: number): boolean => (atS <= fromS ? place.isLoudAtStart : place.isLoudAtEnd)
  return withSafeEnds(newPlacement(id, { layerId, audio, startS, toS }, { fromS, rate: speed, gainDb }), {
    durationS: toS,
    hitS: null,
    isLoudAt,
  })
}
