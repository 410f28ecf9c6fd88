import fs from 'node:fs'
import type { CutPicture } from '../../../contract'
import { frameS } from '../../../core/formats/timecode'
import {
  comesUnevenly,
  type FrameMeasures,
  FrameMeter,
  frameTicks,
  measuredPicture,
  pictureEvents,
  stripStepS,
} from '../../../core/picture'
import { workers as messages } from '../../../messages/server/workers'
import { chosenDecoder } from '../../media/choose'
import { MediaError } from '../../media/decoder'
import { inspectPicture, type PictureInfo } from '../../media/inspect-picture'
import { type PictureRead, readPictureFrames, stripTimes } from '../../media/picture'
import { PulseTeller } from '../pulse'
import type { InspectTask, PictureLook, PictureTask, TaskResult } from '../tasks'
import { writeAtomically } from './features-files'
import { asTaskResult } from './task-result'

/** Where the length was not stated there may be more; these are told. */
const STRIP_TOLD_MAX = 2000

/** Whether a file has a picture, and whether its frames can be read here. */
export function lookAtPicture({ path, pulse }: InspectTask): Promise<TaskResult<PictureLook>> {
  return asTaskResult(async () => {
    new PulseTeller(pulse)
    return { hasPicture: (await inspectPicture(path)) !== null, canRead: chosenDecoder().name === 'ffmpeg' }
  })
}

/** Reads the picture of a cut: its frames, what happens in it, and its strip of small pictures. */
export function readPicture({ path, into, framesInto, pulse, port }: PictureTask): Promise<TaskResult<CutPicture>> {
  return asTaskResult(async () => {
    const teller = new PulseTeller(pulse)
    const info = await inspectPicture(path)
    if (!info) throw new MediaError('not-media', messages.fileHasNoPictureThat)
    const stepS = stripStepS(info.durationS)
    const meter = new FrameMeter()
    const strip = fs.openSync(into, 'w')
    const pieces: { offset: number; bytes: number }[] = []
    let frames = 0
    let offset = 0
    let read: PictureRead
    try {
      read = await readPictureFrames(path, {
        stripStepS: stepS,
        onFrame: (grey) => {
          meter.push(grey, 0)
          teller.decoded(1, info.frameRate.num / info.frameRate.den)
          if (++frames % 100 === 0 && info.durationS > 0)
            port?.postMessage(Math.min(1, (frames * frameS(info.frameRate)) / info.durationS))
        },
        onStripPicture: (jpeg) => {
          fs.writeSync(strip, jpeg)
          pieces.push({ offset, bytes: jpeg.length })
          offset += jpeg.length
        },
      })
      fs.fsyncSync(strip)
    } finally {
      fs.closeSync(strip)
      port?.close()
    }
    teller.computing()
    const measures: FrameMeasures = {
      ...meter.result(),
      timesS: Float64Array.from(read.timesS),
      count: read.timesS.length,
    }
    const chosenS = stripTimes(read.timesS, stepS)
    const isVariable = comesUnevenly(measures.timesS)
    if (isVariable) writeAtomically(framesInto, new Uint8Array(frameTicks(read.timesS).buffer))
    return pictureFacts(info, measures, read, {
      isVariable,
      strip: pieces
        .slice(0, Math.min(chosenS.length, STRIP_TOLD_MAX))
        .map((piece, index) => ({ ...piece, timeS: chosenS[index] as number })),
    })
  })
}

function pictureFacts(
  info: PictureInfo,
  measures: FrameMeasures,
  { timesS, end }: PictureRead,
  { isVariable, strip }: Pick<CutPicture, 'isVariable' | 'strip'>,
): CutPicture {
  const { count } = measures
  const [firstS = 0, lastS = 0] = [timesS[0], timesS[count - 1]]
  const { frameRate, durationS } = measuredPicture({ count, firstS, lastS }, info.frameRate)
  const note = end === 'whole' ? '' : messages.pictureDamagedCouldBeRead(lastS.toFixed(1))
  return {
    durationS,
    frameRate,
    isVariable,
    frameCount: count,
    widthPx: info.widthPx,
    heightPx: info.heightPx,
    events: pictureEvents(measures),
    strip,
    note,
  }
}
