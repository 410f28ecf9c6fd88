import { LoudnessMeter } from '../audio'
import { EMPTY_SCORE, mixKey, newLayer, type Placement } from '../score'
import { mix as messages } from '../wording/mix'
import { Mixer } from './mixer'
import type { PcmSource } from './pcm'

/** More of a long sound is not measured, s. */
const LONGEST_S = 120
/** Loudness is measured in blocks of this length, s. */
const BLOCK_S = 0.4
const BLOCK_FRAMES = 1 << 14

/**
 * How loud a placed sound is over the part that is heard, at a level of 0 dB, with all else that is done to it: fades, lines, treatments, speed.
 *
 * @param source Samples of its file. @returns Loudness by ITU-R BS.1770, LUFS; what is shorter than one block of 0.4 s is measured with silence behind it. Null for silence.
 */
export function placedLoudness(placement: Placement, source: PcmSource, sampleRateHz: number): number | null {
  const layer = newLayer('alone', messages.alone, 'free')
  // A stretch that keeps the pitch is as loud as one that does not.
  const alone = { ...placement, layerId: layer.id, startS: 0, gainDb: 0, isMuted: false, keepsPitch: false }
  const score = { ...EMPTY_SCORE, layers: [layer], placements: [alone] }
  const mixer = new Mixer({ score, sources: new Map([[mixKey(alone), source]]), speech: [], sampleRateHz })
  const meter = new LoudnessMeter(2, sampleRateHz)
  const end = Math.min(mixer.lengthFrames, LONGEST_S * sampleRateHz)
  for (let from = 0; from < end; from += BLOCK_FRAMES) {
    const frames = Math.min(BLOCK_FRAMES, end - from)
    const [left, right] = [new Float32Array(frames), new Float32Array(frames)]
    mixer.render(from, left, right)
    meter.push([left, right])
  }
  const short = Math.ceil(BLOCK_S * sampleRateHz) - end
  if (short > 0) meter.push([new Float32Array(short), new Float32Array(short)])
  return meter.result().integratedLufs
}
