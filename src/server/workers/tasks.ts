import type { MessagePort } from 'node:worker_threads'
import type { RawDetection } from '../../core/hearing'

/** Result of a task: error classes do not survive the way between threads. */
export type TaskResult<T> =
  | { readonly ok: true; readonly value: T }
  | { readonly ok: false; readonly code: string; readonly message: string }

/** Sound track of a media file, made ready. Arrays lie in shared memory. */
export interface DecodedTrack {
  readonly samples: SharedArrayBuffer
  readonly durationS: number
  readonly hasPicture: boolean
  readonly integratedLufs: number | null
  readonly truePeakDbtp: number | null
  readonly momentaryLufs: Float32Array
  /** Lowest and highest sample of each column, -127 to 127. */
  readonly waveform: Int8Array
  readonly decoder: string
}

export interface DecodeTask {
  readonly path: string
  readonly port: MessagePort | null
}

export interface PrepareTask {
  readonly samples: SharedArrayBuffer
  readonly spectraRe: SharedArrayBuffer
  readonly spectraIm: SharedArrayBuffer
}

export interface SearchTask extends PrepareTask {
  /** Feature files of the sounds, and the indices to report them under. */
  readonly sounds: readonly { readonly index: number; readonly path: string }[]
}

export interface SettleTask {
  readonly raw: readonly RawDetection[]
  /** Feature file of every sound that was searched. */
  readonly paths: readonly string[]
  readonly durationS: number
}

export interface AnalyseTask {
  readonly path: string
  readonly featurePath: string
}

/** What is kept of a sound's audio. */
export interface SoundAnalysis {
  readonly durationS: number
  readonly loudnessLufs: number | null
  readonly hitS: number | null
  readonly printColumnS: number
  readonly printLevels: Uint8Array
}
