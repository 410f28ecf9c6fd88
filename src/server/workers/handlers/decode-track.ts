import { PeakMeter } from '../../../core/audio'
import { type Opposition, oppositionOf } from '../../../core/hearing'
import { chosenDecoder, decodeMedia, inspectMedia } from '../../media/choose'
import { PulseTeller } from '../pulse'
import type { DecodedTrack, DecodeTask, FileInspection, InspectTask, TaskResult, TrackTask } from '../tasks'
import { TrackCollector } from '../track-collector'
import { trackFrom } from './shared-memory'
import { asTaskResult } from './task-result'

/** What a finished video or sound file holds, as the decoder that will decode it sees it. */
export function inspectFile({ path, pulse }: InspectTask): Promise<TaskResult<FileInspection>> {
  return asTaskResult(async () => {
    new PulseTeller(pulse)
    const decoder = chosenDecoder()
    const info = await inspectMedia(decoder, path)
    return { ...info, decoder: { name: decoder.name, version: decoder.version() } }
  })
}

/** Decodes one audio track of a finished video or sound file into what a check needs. */
export function decodeTrack({
  path,
  trackIndex,
  untilS,
  memory,
  port,
  pulse,
  withPeaks,
}: DecodeTask): Promise<TaskResult<DecodedTrack>> {
  return asTaskResult(async () => {
    // From now on it is under way: who watches it counts from here.
    const teller = new PulseTeller(pulse)
    port?.postMessage(0)
    const collector = new TrackCollector(memory)
    const peaks = withPeaks ? new PeakMeter() : null
    const decoder = chosenDecoder()
    const media = await decodeMedia(decoder, path, {
      trackIndex,
      ...(untilS === null ? {} : { untilS }),
      onBlock: (channels, rate) => {
        collector.push(channels, rate)
        peaks?.push(channels)
        teller.decoded(channels[0]?.length ?? 0, rate)
      },
      onProgress: throttled((fraction) => port?.postMessage(fraction)),
    })
    teller.computing()
    const { integratedLufs, truePeakDbtp, momentaryLufs, shortTermMaxLufs, rangeLu } = collector.loudness()
    port?.close()
    const shared = collector.track()
    return {
      shared,
      ...oppositionOf(trackFrom(shared)),
      durationS: media.durationS,
      hasPicture: media.hasPicture,
      end: media.end,
      missing: media.missing,
      integratedLufs,
      truePeakDbtp,
      momentaryLufs,
      shortTermMaxLufs,
      loudnessRangeLu: rangeLu,
      waveform: collector.waveform(),
      peaks: peaks?.result(media.sampleRateHz) ?? null,
    }
  })
}

/** Where left and right of a track oppose each other, of a file that was listened to before that was looked at. */
export function findOpposed({ path, trackIndex, untilS, pulse }: TrackTask): Promise<TaskResult<Opposition>> {
  return asTaskResult(async () => {
    const teller = new PulseTeller(pulse)
    const collector = new TrackCollector()
    await decodeMedia(chosenDecoder(), path, {
      trackIndex,
      ...(untilS === null ? {} : { untilS }),
      onBlock: (channels, rate) => {
        collector.push(channels, rate)
        teller.decoded(channels[0]?.length ?? 0, rate)
      },
    })
    teller.computing()
    return oppositionOf(trackFrom(collector.track()))
  })
}

function throttled(report: (fraction: number) => void): (fraction: number) => void {
  let last = -1
  return (fraction) => {
    if (fraction - last < 0.01) return
    last = fraction
    report(fraction)
  }
}
