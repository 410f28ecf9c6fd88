import { resampled } from '../../../core/audio'
import {
  gainOfDb,
  MIX_RATE_HZ,
  memorySource,
  type OverVoice,
  type PlacedSignal,
  placedMasking,
  VOICE_AROUND_S,
} from '../../../core/mix'
import { joinedRanges, type TimeRange } from '../../../core/time-range'
import { chosenDecoder, decodeMedia } from '../../media/choose'
import { concatFloat32 } from '../concat-float32'
import { PulseTeller } from '../pulse'
import type { MaskingResult, MaskingTask, TaskResult } from '../tasks'
import { decodeRange } from './decoded-range'
import { asTaskResult } from './task-result'

/** How placed sounds and the voice of the cut cover each other, each with its id. */
export function measureMasking({
  cutPath,
  cutLevelDb,
  speech,
  placed,
  pulse,
}: MaskingTask): Promise<TaskResult<MaskingResult[]>> {
  return asTaskResult(async () => {
    const windows = joinedRanges(
      placed.map(({ range: { startS, endS } }) => ({
        startS: Math.max(0, startS - VOICE_AROUND_S),
        endS: endS + VOICE_AROUND_S,
      })),
    )
    const teller = new PulseTeller(pulse)
    const voices = await decodeWindows(cutPath, windows, { gain: gainOfDb(cutLevelDb), teller })
    const results: MaskingResult[] = []
    for (const path of new Set(placed.map((one) => one.path))) {
      const ofFile = placed.filter((one) => one.path === path)
      const { channels, rateHz } = await decodeRange(path, { startS: 0, endS: Math.max(...ofFile.map(untilS)) }, pulse)
      const source = memorySource(channels, rateHz)
      for (const one of ofFile) {
        const voice = voices.find(({ startS, endS }) => startS <= one.range.startS && endS >= one.range.endS)
        if (!voice) throw new Error('a placement lies outside of what was decoded for it')
        results.push({ id: one.placement.id, ...placedMasking(one, source, voice.signal, speech, MIX_RATE_HZ) })
      }
    }
    return results
  })
}

/** Up to where a placement needs its file, s. */
function untilS({ placement: { toS, assembly } }: OverVoice): number {
  return Math.max(toS, ...(assembly ?? []).map((piece) => piece.toS))
}

interface VoiceWindow extends TimeRange {
  readonly signal: PlacedSignal
}

/** The cut in some windows of time, as one channel at the rate of mixes. */
async function decodeWindows(
  path: string,
  windows: readonly TimeRange[],
  { gain, teller }: { readonly gain: number; readonly teller: PulseTeller },
): Promise<VoiceWindow[]> {
  const parts = windows.map((): Float32Array[] => [])
  let rateHz = MIX_RATE_HZ
  let frames = 0
  await decodeMedia(chosenDecoder(), path, {
    untilS: windows[windows.length - 1]?.endS ?? 0,
    onBlock: (channels, rate) => {
      rateHz = rate
      const length = channels[0]?.length ?? 0
      for (const [at, { startS, endS }] of windows.entries()) {
        const from = Math.max(0, Math.round(startS * rate) - frames)
        const to = Math.min(length, Math.round(endS * rate) - frames)
        if (to > from) parts[at]?.push(asOne(channels, from, to, gain))
      }
      frames += length
      teller.decoded(length, rate)
    },
  })
  return windows.map((window, at) => {
    const samples = concatFloat32(parts[at] ?? [])
    const signal = {
      samples: rateHz === MIX_RATE_HZ ? samples : resampled(samples, { fromHz: rateHz, toHz: MIX_RATE_HZ }),
      startS: window.startS,
    }
    return { ...window, signal }
  })
}

/** The power of all channels in one. */
function asOne(channels: readonly Float32Array[], from: number, to: number, gain: number): Float32Array {
  const scale = gain / Math.sqrt(channels.length)
  const one = new Float32Array(to - from)
  for (const channel of channels)
    for (let n = from; n < to; n++) one[n - from] = (one[n - from] as number) + scale * (channel[n] as number)
  return one
}
