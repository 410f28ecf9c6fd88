import { useMutation, useQueryClient } from '@tanstack/react-query'
import { useEffect, useMemo } from 'react'
import type { SoundSummary } from '../../contract'
import { shortTimecode } from '../../core/formats/timecode'
import {
  freeSlot,
  loudnessAround,
  type Moment,
  type MomentsEdit,
  neighbourTimes,
  type PlaceForSound,
  placeOfMoment,
} from '../../core/moments'
import { messages } from '../../messages'
import { sendMomentsChange, useVideoMoments } from '../api/moments-queries'
import { useChangeShell, useShell } from '../api/queries'
import type { MomentRef } from '../state/find-state'
import { cutDrops, cutDurationS, cutRate, momentaryOf } from './cut-view'

/** The moment that Find looks for. */
export interface MomentTarget {
  readonly moment: Moment
  readonly place: PlaceForSound
  /** "0:23:10 shutter slams". */
  readonly label: string
  readonly backAddress: string
  readonly listedIds: ReadonlySet<number>
  /** Puts a sound on the short list, or takes it off. */
  toggle(sound: Pick<SoundSummary, 'id' | 'title'>): void
  /** Why the last one could not be, in a sentence. */
  readonly problem: string | null
}

/** @returns Null where none is looked for, it is not there any more, or it is still being asked for. */
export function useMomentTarget(ref: MomentRef | null): MomentTarget | null {
  const query = useVideoMoments(ref?.videoId ?? 0, ref !== null)
  const shell = useShell()
  const { mutate: changeShell } = useChangeShell()
  const client = useQueryClient()
  const inHandId = shell.data?.videoInHandId
  const videoId = ref?.videoId ?? null
  // What is allowed is told in the light of the video of the moment.
  useEffect(() => {
    if (videoId !== null && inHandId !== undefined && inHandId !== videoId) changeShell({ videoInHandId: videoId })
  }, [videoId, inHandId, changeShell])
  const { data } = query
  const moment = ref ? (data?.document.moments.find(({ id }) => id === ref.momentId) ?? null) : null
  const change = useMutation({
    mutationFn: async (edit: MomentsEdit) => {
      const sent = await sendMomentsChange(videoId as number, { revision: data?.revision ?? 0, edits: [edit] })
      // Another tab was faster: the same on what is there now.
      if (sent.outcome === 'changed-meanwhile')
        await sendMomentsChange(videoId as number, { revision: sent.revision, edits: [edit] })
    },
    onSettled: () => client.invalidateQueries({ queryKey: ['moments', videoId] }),
  })
  const { mutate, error } = change
  return useMemo(() => {
    if (!moment || !data || !ref) return null
    const { cut } = data
    const times = neighbourTimes(data.document.moments, cut?.picture?.events ?? [])
    const place = placeOfMoment(moment, times, {
      durationS: cut ? cutDurationS(cut) : Number.MAX_SAFE_INTEGER,
      cutLufs: cut ? loudnessAround(momentaryOf(cut), moment.atS) : null,
    })
    const time = cut ? shortTimecode(moment.atS, cutRate(cut), cutDrops(cut)) : `${moment.atS.toFixed(1)} s`
    const listedIds = new Set(moment.shortList.map(({ soundId }) => soundId))
    return {
      moment,
      place,
      label: `${time} ${moment.words || messages.moments.moment}`,
      backAddress: `/videos/${ref.videoId}/moments?moment=${moment.id}`,
      listedIds,
      toggle: ({ id }) => {
        const slot = freeSlot(moment)
        if (!listedIds.has(id) && slot === null) return
        const shortList = listedIds.has(id)
          ? moment.shortList.filter(({ soundId }) => soundId !== id)
          : [...moment.shortList, { slot: slot ?? 'F', soundId: id, reason: '' }]
        mutate({ do: 'change', changes: [{ id: moment.id, to: { shortList } }] })
      },
      problem: error?.message ?? null,
    }
  }, [moment, data, ref, mutate, error])
}
