/** What stands between the audio elements and the loudspeakers: gain, mono, a limiter for what was raised, and a meter. */
export interface AudioGraph {
  /** Lets an element be heard through it. */
  connect(audio: HTMLAudioElement): void
  /** Sets the gain at once. @param gainDb In dB. */
  setGain(gainDb: number): void
  setMono(mono: boolean): void
  /** Peak of the last moment, dB below full scale; -Infinity for silence. */
  peakDb(): number
  /** Browsers hold sound back until the page was used. */
  wake(): void
}

const METER_SIZE = 1024

/** @returns Null where the browser has no Web Audio: then the elements play by themselves. */
export function audioGraph(): AudioGraph | null {
  if (typeof AudioContext === 'undefined') return null
  const context = new AudioContext({ latencyHint: 'interactive' })
  const gain = context.createGain()
  const mixer = context.createGain()
  // Only peaks above full scale are held: nothing else is touched.
  const limiter = context.createDynamicsCompressor()
  limiter.threshold.value = -1
  limiter.knee.value = 0
  limiter.ratio.value = 20
  limiter.attack.value = 0.001
  limiter.release.value = 0.05
  const meter = context.createAnalyser()
  meter.fftSize = METER_SIZE
  gain.connect(mixer).connect(limiter).connect(meter).connect(context.destination)
  const samples = new Float32Array(METER_SIZE)
  return {
    connect: (audio) => {
      context.createMediaElementSource(audio).connect(gain)
    },
    setGain: (gainDb) => {
      gain.gain.value = 10 ** (gainDb / 20)
    },
    setMono: (mono) => {
      mixer.channelCount = mono ? 1 : 2
      mixer.channelCountMode = mono ? 'explicit' : 'max'
      mixer.channelInterpretation = 'speakers'
    },
    peakDb: () => {
      meter.getFloatTimeDomainData(samples)
      let peak = 0
      for (const sample of samples) peak = Math.max(peak, Math.abs(sample))
      return 20 * Math.log10(peak)
    },
    wake: () => {
      if (context.state === 'suspended') void context.resume()
    },
  }
}
