import { useCallback, useEffect, useRef } from 'react'
import { isLearned, type Moment, NO_REACTION, newMoment, reactionS, withCorrection } from '../../core/moments'
import type { TimeRange } from '../../core/time-range'
import { messages } from '../../messages'
import { useReaction, useSaveReaction } from '../api/moments-queries'
import type { FrameGrid } from './frames'
import { newId } from './new-id'
import type { CutPlayer } from './use-cut-player'
import type { MomentsDesk } from './use-moments'

/** A moment that was corrected is left alone for so long before anything is learned from it, ms. */
const SETTLED_MS = 1500

interface NotedBy {
  /** Where the cut stood when the key was pressed. */
  readonly pressedAtS: number
  readonly notedS: number
}

/** Notes moments where the cut stands, and learns from corrections how long somebody takes to press the key. */
export function useNoting(desk: MomentsDesk, player: CutPlayer, frames: FrameGrid) {
  const query = useReaction()
  const { mutate: save } = useSaveReaction()
  const reaction = query.data ?? NO_REACTION
  const live = useRef({ reaction, frames, player })
  live.current = { reaction, frames, player }
  const noted = useRef(new Map<string, NotedBy>())
  const timers = useRef(new Map<string, ReturnType<typeof setTimeout>>())
  useEffect(() => {
    const all = timers.current
    return () => {
      for (const timer of all.values()) clearTimeout(timer)
    }
  }, [])

  /** Adds a moment at the frame that was heard, or over the marked part. @returns Its id, or null when it cannot be. */
  const note = useCallback(
    (part: TimeRange | null): string | null => {
      const { reaction: now, frames: grid, player: cut } = live.current
      const pressedAtS = cut.clock.now()
      // Only while it plays forwards somebody reacts to what was heard.
      const lateS = cut.speed > 0 ? reactionS(now) * cut.speed : 0
      const atS = part ? grid.nearestS(part.startS) : grid.startS(grid.at(Math.max(0, pressedAtS - lateS)))
      const id = newId()
      const moment = newMoment(id, atS, part ? { endS: grid.nearestS(part.endS) } : {})
      if (desk.edit({ do: 'add', moments: [moment] }, messages.moments.noteAMoment) !== null) return null
      if (lateS > 0 && cut.speed === 1) noted.current.set(id, { pressedAtS, notedS: atS })
      return id
    },
    [desk],
  )

  /** A moment was moved by hand: what was noted by key teaches something, once it stays. */
  const corrected = useCallback(
    (moment: Moment) => {
      const by = noted.current.get(moment.id)
      if (!by) return
      clearTimeout(timers.current.get(moment.id))
      timers.current.set(
        moment.id,
        setTimeout(() => {
          noted.current.delete(moment.id)
          const now = desk.store.now().history.document.moments.find(({ id }) => id === moment.id)
          if (now) save(withCorrection(live.current.reaction, { ...by, correctedS: now.atS }))
        }, SETTLED_MS),
      )
    },
    [desk, save],
  )
  return {
    reactionS: reactionS(reaction),
    isLearned: isLearned(reaction),
    isSet: reaction.setS !== null,
    setReaction: (setS: number | null) => save({ ...reaction, setS }),
    note,
    corrected,
  }
}
