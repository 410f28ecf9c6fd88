/** What a channel is for. */
export type ChannelRole = 'L' | 'R' | 'C' | 'LFE' | 'SL' | 'SR' | 'BL' | 'BR' | 'BC'

/** The roles of a track's channels, in the order in which they are decoded. */
export type ChannelLayout = readonly ChannelRole[]

/** Order of the channel mask of WAVE files, which ffmpeg, FLAC and PCM in MOV follow too, by number of channels. */
const WAVE: Readonly<Record<number, ChannelLayout>> = {
  1: ['C'],
  2: ['L', 'R'],
  3: ['L', 'R', 'C'],
  4: ['L', 'R', 'BL', 'BR'],
  5: ['L', 'R', 'C', 'BL', 'BR'],
  6: ['L', 'R', 'C', 'LFE', 'BL', 'BR'],
  7: ['L', 'R', 'C', 'LFE', 'BC', 'SL', 'SR'],
  8: ['L', 'R', 'C', 'LFE', 'BL', 'BR', 'SL', 'SR'],
}

/** Order of Vorbis I, section 4.3.9, which Opus follows (RFC 7845, section 5.1.1.2). */
const VORBIS: Readonly<Record<number, ChannelLayout>> = {
  ...WAVE,
  3: ['L', 'C', 'R'],
  5: ['L', 'C', 'R', 'BL', 'BR'],
  6: ['L', 'C', 'R', 'BL', 'BR', 'LFE'],
  7: ['L', 'C', 'R', 'SL', 'SR', 'BC', 'LFE'],
  8: ['L', 'C', 'R', 'SL', 'SR', 'BL', 'BR', 'LFE'],
}

/** Order in which the built-in AAC decoder gives channels: that of WAVE, but for eight, which stay as coded (ISO/IEC 14496-3, table 1.19). */
const AAC: Readonly<Record<number, ChannelLayout>> = {
  ...WAVE,
  4: ['L', 'R', 'C', 'BC'],
  8: ['C', 'L', 'R', 'SL', 'SR', 'BL', 'BR', 'LFE'],
}

const ORDERS = { wave: WAVE, vorbis: VORBIS, aac: AAC }
export type ChannelOrder = keyof typeof ORDERS

/** @returns Null for more channels than the order has a table for. */
export function channelLayout(order: ChannelOrder, channelCount: number): ChannelLayout | null {
  return ORDERS[order][channelCount] ?? null
}

/** "mono", "stereo", "5.1", or "7 channels". */
export function layoutName(channelCount: number): string {
  const names: Readonly<Record<number, string>> = { 1: 'mono', 2: 'stereo', 6: '5.1', 8: '7.1' }
  return names[channelCount] ?? `${channelCount} channels`
}

/** Gain of a role in the left and the right channel. Source: ITU-R BS.775-3, annex 4; the LFE channel goes to both, so that nothing in it is lost. */
const GAINS: Readonly<Record<ChannelRole, readonly [number, number]>> = {
  L: [1, 0],
  R: [0, 1],
  C: [Math.SQRT1_2, Math.SQRT1_2],
  LFE: [Math.SQRT1_2, Math.SQRT1_2],
  SL: [Math.SQRT1_2, 0],
  SR: [0, Math.SQRT1_2],
  BL: [Math.SQRT1_2, 0],
  BR: [0, Math.SQRT1_2],
  BC: [0.5, 0.5],
}

/**
 * Folds surround sound down to stereo; every channel counts. One or two channels stay as they are.
 *
 * @param channels Full scale ±1, of equal length. Not modified.
 * @param layout Null for an unknown order: then every channel goes to both sides at the same level.
 */
export function foldedDown(channels: readonly Float32Array[], layout: ChannelLayout | null): readonly Float32Array[] {
  if (channels.length <= 2) return channels
  const equal = 1 / Math.sqrt(channels.length)
  const out = [0, 1].map(() => new Float32Array((channels[0] as Float32Array).length)) as [Float32Array, Float32Array]
  channels.forEach((channel, index) => {
    const role = layout?.length === channels.length ? layout[index] : undefined
    const gains = role ? GAINS[role] : [equal, equal]
    for (const side of [0, 1] as const) {
      const gain = gains[side] as number
      const into = out[side]
      if (gain !== 0)
        for (let i = 0; i < into.length; i++) into[i] = (into[i] as number) + gain * (channel[i] as number)
    }
  })
  return out
}
