export const RECORD_PROCESSOR = 'good-thud-record'

/** A stretch of what came from the microphone. */
export interface RecordedBlock {
  /** Time of the audio clock at which it begins, s. */
  readonly contextTimeS: number
  readonly channels: readonly Float32Array<ArrayBuffer>[]
}
