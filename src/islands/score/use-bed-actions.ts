import type { SoundDetail } from '../../contract'
import {
  asOneSound,
  type BedSource,
  fullerFrom,
  inParts,
  inStems,
  type Placement,
  type ScoreEdit,
  scoreWithEdit,
  thinnerUnder,
} from '../../core/score'
import { partsInOrder } from '../../core/sound-choices'
import { messages } from '../../messages'
import { newId } from '../moments/new-id'
import { audioOf, sourceFacts } from './source-facts'
import type { PlaceDesk } from './use-score-desk'

/** What can be done with music that is to be had in stems and parts. */
export type BedActions = ReturnType<typeof useBedActions>

/** @param soundBy Gives a sound; null where it cannot be had, which is said. */
export function useBedActions(placeDesk: PlaceDesk, soundBy: (id: number) => Promise<SoundDetail | null>) {
  const { score, chosen, edit, setChosenIds, player, speech } = placeDesk
  const sourceBy = async (soundId: number): Promise<BedSource | null> => {
    const sound = await soundBy(soundId)
    return sound && { id: newId(), audio: audioOf(sound), source: sourceFacts(sound) }
  }
  /** Does an edit by which placements take the place of others, and chooses them. */
  const replaceBy = (make: () => ScoreEdit, words: string): void => {
    const before = new Set(score.placements.map(({ id }) => id))
    let edited: ScoreEdit | null = null
    const isDone = edit(() => {
      edited = make()
      return edited
    }, words)
    if (!isDone || !edited) return
    const added = scoreWithEdit(score, edited).document.placements.filter(({ id }) => !before.has(id))
    setChosenIds(new Set(added.map(({ id }) => id)))
  }
  return {
    /** Takes the chosen whole apart into its stems. */
    inStems: async (placement: Placement, entry: SoundDetail): Promise<void> => {
      const wanted = entry.choices.filter(({ role }) => role === 'stem')
      const stems = await Promise.all(wanted.map(({ id }) => sourceBy(id)))
      // Placements that begin together stand in the order of their ids: that of the library.
      const ids = wanted.map(newId).sort()
      const had = stems.flatMap((one, at) => (one ? [{ ...one, id: ids[at] as string }] : []))
      // With one of them left out it would be another piece of music.
      if (had.length < wanted.length) return
      replaceBy(
        () => inStems(placement, { bedId: newId(), soundId: entry.id, stems: had }),
        messages.score.placeInStems,
      )
    },
    /** Lays opening, loops and ending for a length; the chosen whole, or the parts of before, go. */
    inParts: async (entry: SoundDetail, wantedS: number): Promise<void> => {
      const named = partsInOrder(entry.choices)
      if (!named) return
      const [opening, loop, ending] = await Promise.all(
        [named.opening, named.loop, named.ending].map(({ id }) => sourceBy(id)),
      )
      if (!opening || !loop || !ending) return
      const parts = { opening, loop, ending }
      replaceBy(
        () => inParts(chosen, { bedId: newId(), soundId: entry.id, parts, wantedS }),
        messages.score.placeInParts,
      )
    },
    asOneSound: async (entry: SoundDetail): Promise<void> => {
      const whole = await sourceBy(entry.id)
      if (whole) replaceBy(() => asOneSound(chosen, whole), messages.score.placeAsOneSound)
    },
    thinner: (stem: Placement, depthDb: number): void => {
      edit(
        () => ({ do: 'change', changes: [{ id: stem.id, to: { gainPoints: thinnerUnder(stem, speech, depthDb) } }] }),
        messages.score.thinnerUnderSpeechButton,
      )
    },
    fuller: (stem: Placement, depthDb: number): void => {
      edit(
        () => ({
          do: 'change',
          changes: [{ id: stem.id, to: { gainPoints: fullerFrom(stem, player.clock.now(), depthDb) } }],
        }),
        messages.score.fullerFromHere,
      )
    },
  }
}
