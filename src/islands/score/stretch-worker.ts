import { openStretch } from 'signalsmith-stretch'
import { MIX_RATE_HZ, memorySource, Stretcher, stretchedChannels } from '../../core/mix'

/** A sound that is to be stretched to another speed. */
export interface StretchRequest {
  readonly key: string
  readonly channels: readonly Float32Array<ArrayBuffer>[]
  readonly rate: number
}

export type StretchAnswer =
  | { readonly key: string; readonly channels: readonly Float32Array<ArrayBuffer>[] }
  | { readonly key: string; readonly problem: string }

const stretcher = openStretch().then((module) => new Stretcher(module))

self.onmessage = ({ data: { key, channels, rate } }: MessageEvent<StretchRequest>) => {
  stretcher.then(
    (ready) => {
      const stretched = stretchedChannels(ready, memorySource(channels, MIX_RATE_HZ), rate)
      self.postMessage({ key, channels: stretched } satisfies StretchAnswer, {
        transfer: stretched.map(({ buffer }) => buffer),
      })
    },
    (error: Error) => self.postMessage({ key, problem: error.message } satisfies StretchAnswer),
  )
}
