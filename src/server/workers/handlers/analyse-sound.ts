import { hitPointS, soundPrint } from '../../../core/audio'
import { encodedFeatures, HEARING_RATE_HZ, preparedSound } from '../../../core/hearing'
import { decodeMedia, soundDecoder } from '../../media/choose'
import { concatFloat32 } from '../concat-float32'
import { PulseTeller } from '../pulse'
import type { AnalyseTask, SoundAnalysis, TaskResult } from '../tasks'
import { mixedDown, TrackCollector } from '../track-collector'
import { describedAs, MAX_SOUND_S } from './describe-sound'
import { storedTemplates, writeAtomically } from './features-files'
import { trackFrom } from './shared-memory'
import { asTaskResult } from './task-result'

/** Decodes a sound of a library and writes what hearing needs of it. */
export function analyseSound({ path, featurePath, pulse }: AnalyseTask): Promise<TaskResult<SoundAnalysis>> {
  return asTaskResult(async () => {
    const teller = new PulseTeller(pulse)
    const collector = new TrackCollector()
    const parts: Float32Array[] = []
    let rateHz = HEARING_RATE_HZ
    let frames = 0
    let channelCount = 1
    await decodeMedia(soundDecoder, path, {
      onBlock: (channels, rate) => {
        rateHz = rate
        channelCount = channels.length
        const length = channels[0]?.length ?? 0
        frames += length
        if (frames / rate > MAX_SOUND_S) throw new Error(`longer than ${MAX_SOUND_S} s`)
        teller.decoded(length, rate)
        collector.push(channels, rate)
        parts.push(mixedDown(channels).slice())
      },
    })
    teller.computing()
    const mono = concatFloat32(parts)
    const track = trackFrom(collector.track())
    const side = track.side ? track.sideSamples(0, track.frames) : null
    writeAtomically(featurePath, encodedFeatures(preparedSound(track.midSamples(0, track.frames), side)))
    storedTemplates(featurePath)
    const print = soundPrint(mono, rateHz)
    return {
      durationS: mono.length / rateHz,
      loudnessLufs: collector.loudness().integratedLufs ?? shortLoudness(mono, rateHz),
      hitS: hitPointS(mono, rateHz),
      printColumnS: print.columnS,
      printLevels: print.levels,
      description: describedAs(mono, rateHz, channelCount),
    }
  })
}

/** A clip under one 400 ms block has no integrated loudness: it is measured with silence around it. */
function shortLoudness(mono: Float32Array, rateHz: number): number | null {
  if (mono.length / rateHz >= 0.4 || mono.length === 0) return null
  const padded = new Float32Array(Math.ceil(0.5 * rateHz))
  padded.set(mono)
  const collector = new TrackCollector()
  collector.push([padded], rateHz)
  return collector.loudness().integratedLufs
}
