import { isLayerHeard, type Layer, mixKey, type Placement, type Score } from '../score'
import type { TimeRange } from '../time-range'
import { type Dip, dipsUnder, duckedDb } from './duck'
import { gainOfDb } from './gains'
import type { PcmSource } from './pcm'
import { Voice } from './voice'

/** What a mix is made from. */
export interface MixInput {
  readonly score: Score
  /** The audio of each placement by its key; one that is not there is silent. */
  readonly sources: ReadonlyMap<string, PcmSource>
  /** Where the voice speaks, for layers that go down under it. */
  readonly speech: readonly TimeRange[]
  /** Rate of the mix, 8 000 to 192 000. */
  readonly sampleRateHz: number
  /** A mixer of the score as it was before, at the same rate, that is not used any more: what did not change goes on as it sounds. */
  readonly before?: Mixer
}

interface LayerVoices {
  readonly layer: Layer
  readonly level: number
  readonly dips: readonly Dip[]
  readonly voices: readonly Voice[]
}

/**
 * Mixes a score to stereo, before the limiter. Voices are summed in the order of layers and then of time, so that the same score gives the same
 * samples whatever the blocks. Keeps state, so that it is for one thread.
 */
export class Mixer {
  /** Up to the end of the last sound with what its treatments add. */
  readonly lengthFrames: number
  readonly sampleRateHz: number
  /** Placements that are heard but have no audio. */
  readonly silent: readonly Placement[]
  private readonly layers: readonly LayerVoices[]
  private readonly voices = new Map<string, Voice>()
  private layerLeft = new Float32Array(0)
  private layerRight = new Float32Array(0)

  constructor({ score, sources, speech, sampleRateHz, before }: MixInput) {
    const silent: Placement[] = []
    this.layers = score.layers
      .filter((layer) => isLayerHeard(layer, score.layers))
      .map((layer) => ({
        layer,
        level: gainOfDb(layer.levelDb),
        dips: layer.duck ? dipsUnder(layer.duck, speech) : [],
        voices: score.placements
          .filter(({ layerId, isMuted }) => layerId === layer.id && !isMuted)
          .flatMap((placement) => {
            const source = sources.get(mixKey(placement))
            if (!source) silent.push(placement)
            return source ? [this.voiceOf(placement, source, sampleRateHz, before)] : []
          }),
      }))
    this.silent = silent
    this.sampleRateHz = sampleRateHz
    this.lengthFrames = Math.max(
      0,
      ...this.layers.flatMap(({ voices }) => voices.map((voice) => voice.startFrame + voice.lengthFrames)),
    )
  }

  private voiceOf(placement: Placement, source: PcmSource, sampleRateHz: number, before: Mixer | undefined): Voice {
    const known = before?.voices.get(placement.id)
    const voice = known?.isOf(placement, source) ? known : new Voice(placement, source, sampleRateHz)
    this.voices.set(placement.id, voice)
    return voice
  }

  /** Fills both arrays with the mix from a frame on. */
  render(fromFrame: number, left: Float32Array, right: Float32Array): void {
    left.fill(0)
    right.fill(0)
    for (const layer of this.layers) {
      if (!this.fillLayer(layer, fromFrame, left.length)) continue
      add(left, this.layerLeft)
      add(right, this.layerRight)
    }
  }

  /** Fills both arrays with one layer alone, as it is in the mix; with silence where it is not heard. */
  renderLayer(layerId: string, fromFrame: number, left: Float32Array, right: Float32Array): void {
    left.fill(0)
    right.fill(0)
    const layer = this.layers.find((one) => one.layer.id === layerId)
    if (!layer || !this.fillLayer(layer, fromFrame, left.length)) return
    add(left, this.layerLeft)
    add(right, this.layerRight)
  }

  /** @returns Whether anything of the layer may be heard there. */
  private fillLayer({ level, dips, voices }: LayerVoices, fromFrame: number, frames: number): boolean {
    const end = fromFrame + frames
    const heard = voices.filter((voice) => voice.startFrame < end && voice.startFrame + voice.lengthFrames > fromFrame)
    if (heard.length === 0) return false
    if (this.layerLeft.length !== frames) {
      this.layerLeft = new Float32Array(frames)
      this.layerRight = new Float32Array(frames)
    }
    const { layerLeft, layerRight } = this
    layerLeft.fill(0)
    layerRight.fill(0)
    for (const voice of heard) voice.addTo(layerLeft, layerRight, fromFrame)
    const { sampleRateHz } = this
    const near = dips.filter(
      ({ downFromS, upAtS }) => downFromS * sampleRateHz < end && upAtS * sampleRateHz > fromFrame,
    )
    for (let n = 0; n < frames; n++) {
      const gain = near.length === 0 ? level : level * gainOfDb(duckedDb(near, (fromFrame + n) / sampleRateHz))
      layerLeft[n] = (layerLeft[n] as number) * gain
      layerRight[n] = (layerRight[n] as number) * gain
    }
    return true
  }
}

function add(to: Float32Array, what: Float32Array): void {
  for (let n = 0; n < to.length; n++) to[n] = (to[n] as number) + (what[n] as number)
}
