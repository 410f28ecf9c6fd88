import { ALL_FORMATS, Input, UrlSource, VideoSampleSink } from 'mediabunny'
import type { CutPicture } from '../../contract'
import { DEFAULT_FRAME_RATE } from '../../core/formats/timecode'
import {
  comesUnevenly,
  FrameMeter,
  frameTicks,
  isStripFrame,
  measuredPicture,
  PICTURE_BYTES,
  PICTURE_HEIGHT,
  PICTURE_WIDTH,
  pictureEvents,
  STRIP_HEIGHT_PX,
  stripStepS,
} from '../../core/picture'
import { messages } from '../../messages'

const JPEG_QUALITY = 0.7

self.onmessage = ({ data }: MessageEvent<{ cutId: number; origin: string }>) => {
  readPicture(`${data.origin}/api/cuts/${data.cutId}`).then(
    () => self.postMessage('done'),
    (error: Error) => {
      throw error
    },
  )
}

/** Decodes the picture of a cut with the browser's own decoder, and sends the strip and what is seen in it. */
async function readPicture(address: string): Promise<void> {
  const input = new Input({ formats: ALL_FORMATS, source: new UrlSource(address) })
  const track = await input.getPrimaryVideoTrack()
  if (!track) return
  const [widthPx, heightPx] = [await track.getDisplayWidth(), await track.getDisplayHeight()]
  const durationS = await track.computeDuration()
  const small = new OffscreenCanvas(PICTURE_WIDTH, PICTURE_HEIGHT)
  const context = small.getContext('2d', { willReadFrequently: true })
  const stripCanvas = new OffscreenCanvas(2 * Math.round((STRIP_HEIGHT_PX * widthPx) / heightPx / 2), STRIP_HEIGHT_PX)
  const stripContext = stripCanvas.getContext('2d')
  if (!context || !stripContext) return
  const meter = new FrameMeter()
  const grey = new Uint8Array(PICTURE_BYTES)
  const stepS = stripStepS(durationS)
  const pieces: Blob[] = []
  const strip: CutPicture['strip'] = []
  let offset = 0
  let lastPieceS: number | null = null
  const timesS: number[] = []
  for await (const sample of new VideoSampleSink(track).samples()) {
    const timeS = Math.max(0, sample.timestamp)
    timesS.push(timeS)
    sample.draw(context, 0, 0, PICTURE_WIDTH, PICTURE_HEIGHT)
    toGrey(context.getImageData(0, 0, PICTURE_WIDTH, PICTURE_HEIGHT).data, grey)
    meter.push(grey, timeS)
    if (isStripFrame(timeS, lastPieceS, stepS)) {
      lastPieceS = timeS
      sample.draw(stripContext, 0, 0, stripCanvas.width, stripCanvas.height)
      const blob = await stripCanvas.convertToBlob({ type: 'image/jpeg', quality: JPEG_QUALITY })
      pieces.push(blob)
      strip.push({ timeS, offset, bytes: blob.size })
      offset += blob.size
    }
    sample.close()
  }
  const [firstS, lastS] = [timesS[0], timesS[timesS.length - 1]]
  if (firstS === undefined || lastS === undefined) return
  const isVariable = comesUnevenly(timesS)
  const measured = measuredPicture({ count: timesS.length, firstS, lastS }, DEFAULT_FRAME_RATE)
  const picture: CutPicture = {
    ...measured,
    isVariable,
    frameCount: timesS.length,
    widthPx,
    heightPx,
    events: pictureEvents(meter.result()),
    strip,
    note: '',
  }
  if (isVariable) await sent(`${address}/frames`, { method: 'PUT', body: new Blob([frameTicks(timesS)]) })
  await sent(`${address}/picture`, { method: 'PUT', body: new Blob(pieces) })
  await sent(`${address}/picture`, {
    method: 'POST',
    headers: { 'Content-Type': 'application/json' },
    body: JSON.stringify(picture),
  })
}

async function sent(address: string, init: RequestInit): Promise<void> {
  const response = await fetch(address, init)
  if (!response.ok) throw new Error(messages.moments.thePictureCouldNotBe(response.status))
}

/** Brightness by Rec. 709. */
function toGrey(rgba: Uint8ClampedArray, grey: Uint8Array): void {
  for (let i = 0, at = 0; i < grey.length; i++, at += 4)
    grey[i] = 0.2126 * (rgba[at] as number) + 0.7152 * (rgba[at + 1] as number) + 0.0722 * (rgba[at + 2] as number)
}
