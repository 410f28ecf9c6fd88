import { ALL_FORMATS, FilePathSource, Input } from 'mediabunny'
import { type FrameRate, nearestFrameRate } from '../../core/formats/timecode'
import { chosenDecoder } from './choose'
import { isMovingPicture, probeFile } from './ffmpeg'

/** What a file says of its picture. */
export interface PictureInfo {
  /** As it is shown, turned where the file says so. */
  readonly widthPx: number
  readonly heightPx: number
  readonly frameRate: FrameRate
  readonly durationS: number
}

const RATE_PACKETS = 200

/** The picture of a file as its container describes it. @returns Null for a file without one, or one that cannot be read. */
export async function inspectPicture(path: string): Promise<PictureInfo | null> {
  return chosenDecoder().name === 'ffmpeg' ? probedPicture(path) : embeddedPicture(path)
}

function probedPicture(path: string): PictureInfo | null {
  const probe = probeFile(path)
  const stream = probe?.streams?.find(isMovingPicture)
  if (!stream?.width || !stream.height) return null
  const rotation = stream.side_data_list?.find((one) => one.rotation !== undefined)?.rotation ?? 0
  const isTurned = Math.abs(rotation) % 180 === 90
  return {
    widthPx: isTurned ? stream.height : stream.width,
    heightPx: isTurned ? stream.width : stream.height,
    frameRate: rateOf(stream.avg_frame_rate) ?? rateOf(stream.r_frame_rate) ?? nearestFrameRate(25),
    durationS: [Number(stream.duration), Number(probe?.format?.duration)].find((value) => value > 0) ?? 0,
  }
}

function rateOf(text: string | undefined): FrameRate | null {
  const [num = 0, den = 0] = (text ?? '').split('/').map(Number)
  return num > 0 && den > 0 ? nearestFrameRate(num / den) : null
}

async function embeddedPicture(path: string): Promise<PictureInfo | null> {
  const input = new Input({ formats: ALL_FORMATS, source: new FilePathSource(path) })
  try {
    const track = await input.getPrimaryVideoTrack()
    if (!track) return null
    const { averagePacketRate } = await track.computePacketStats(RATE_PACKETS)
    return {
      widthPx: await track.getDisplayWidth(),
      heightPx: await track.getDisplayHeight(),
      frameRate: nearestFrameRate(averagePacketRate > 0 ? averagePacketRate : 25),
      durationS: await track.computeDuration(),
    }
  } catch {
    return null
  } finally {
    input.dispose()
  }
}
