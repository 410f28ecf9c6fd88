import { eachPowerSpectrum } from './power-spectra'

/** Edges of the four bands of a print, Hz: body, low middle, presence, air. Chosen an even share of effects' energy each. */
export const PRINT_BAND_EDGES_HZ = [40, 250, 1000, 4000, 16000] as const
export const PRINT_BANDS = 4
/** Print columns a second: 50 shows a 20 ms click as one column. */
export const PRINT_COLUMNS_PER_S = 50
/** A print keeps at most this many columns (40 s); longer sounds get wider columns. */
export const PRINT_MAX_COLUMNS = 2000
/** The quietest level that a print shows, dB under the loudest column of the sound. */
const PRINT_RANGE_DB = 48

/** The picture of a sound: band levels over time. */
export interface Print {
  /** Seconds that one column stands for. */
  readonly columnS: number
  /** Column after column, four bytes each, low band first: 0 silent, 255 the loudest band and column of the sound. */
  readonly levels: Uint8Array
}

/**
 * Computes the print of a clip.
 *
 * @param samples Mono, full scale 1, any length. Not modified.
 * @param sampleRateHz 8 000 to 192 000. Bands above its Nyquist frequency stay 0.
 * @returns At least one column, also for an empty clip.
 */
export function soundPrint(samples: Float32Array, sampleRateHz: number): Print {
  const durationS = samples.length / sampleRateHz
  const columns = Math.max(1, Math.min(PRINT_MAX_COLUMNS, Math.ceil(durationS * PRINT_COLUMNS_PER_S)))
  const columnS = Math.max(1 / PRINT_COLUMNS_PER_S, durationS / columns)
  const size = 1024
  const power = new Float64Array(columns * PRINT_BANDS)
  const weight = new Float64Array(columns)
  const bandOfBin = binBands(size, sampleRateHz)
  const window = Float32Array.from({ length: size }, (_, n) => Math.sin((Math.PI * (n + 0.5)) / size) ** 2)
  const hop = Math.max(64, Math.min(size / 2, Math.round(columnS * sampleRateHz * 0.5)))
  const count = Math.ceil(samples.length / hop)
  eachPowerSpectrum(samples, { window, count, startOf: (frame) => frame * hop - size / 2 }, (spectrum, frame) => {
    const column = Math.min(columns - 1, Math.floor((frame * hop) / sampleRateHz / columnS))
    weight[column] = (weight[column] as number) + 1
    for (let k = 1; k < size / 2; k++) {
      const band = bandOfBin[k] as number
      if (band >= PRINT_BANDS) continue
      const at = column * PRINT_BANDS + band
      power[at] = (power[at] as number) + (spectrum[k] as number)
    }
  })
  return { columnS, levels: scaledLevels(power, weight) }
}

function binBands(size: number, sampleRateHz: number): Uint8Array {
  return Uint8Array.from({ length: size / 2 }, (_, k) => {
    const frequencyHz = (k * sampleRateHz) / size
    const band = PRINT_BAND_EDGES_HZ.findIndex((edge) => frequencyHz < edge)
    return band <= 0 ? PRINT_BANDS : band - 1
  })
}

function scaledLevels(power: Float64Array, weight: Float64Array): Uint8Array {
  const decibels = power.map((value, at) => {
    const frames = Math.max(1, weight[Math.floor(at / PRINT_BANDS)] as number)
    return 10 * Math.log10(value / frames + 1e-12)
  })
  const loudest = decibels.reduce((most, value) => Math.max(most, value), -120)
  if (loudest <= -90) return new Uint8Array(power.length)
  return Uint8Array.from(decibels, (value) =>
    Math.round(255 * Math.min(1, Math.max(0, 1 + (value - loudest) / PRINT_RANGE_DB))),
  )
}
