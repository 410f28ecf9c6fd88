import { DEFAULT_FRAME_RATE, type FrameRate } from '../../core/formats/timecode'
import type { Moment } from '../../core/moments'
import type { Score } from '../../core/score'
import type { Services } from '../context'
import { getMoments } from '../moments/moments'
import { findScoreRow } from '../rows/score-rows'
import { getVideoRow } from '../rows/video-rows'

/** What every list of a score begins with. */
export interface ListFrame {
  readonly title: string
  readonly document: Score
  /** Frame rate of the cut, or the usual one. */
  readonly rate: FrameRate
  readonly moments: readonly Moment[]
}

/** @throws {DomainError} not-found. */
export async function loadListFrame(services: Pick<Services, 'db'>, videoId: number): Promise<ListFrame> {
  const { title } = await getVideoRow(services.db, videoId)
  const { document } = await findScoreRow(services.db, videoId)
  const { cut, document: planned } = await getMoments(services, videoId)
  return { title, document, rate: cut?.picture?.frameRate ?? DEFAULT_FRAME_RATE, moments: planned.moments }
}
