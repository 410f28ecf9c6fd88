export { Fft } from './fft'
export { hitPointS } from './hit-point'
export { canLoop } from './loops'
export { AudioInputError, clipLoudness, type Loudness, LoudnessMeter } from './loudness'
export { coarser, PEAK_FRAMES, PeakMeter, type Peaks, peakLevelFor } from './peaks'
export { eachPowerSpectrum } from './power-spectra'
export {
  PRINT_BAND_EDGES_HZ,
  PRINT_BANDS,
  PRINT_COLUMNS_PER_S,
  PRINT_MAX_COLUMNS,
  type Print,
  soundPrint,
} from './print'
export { compiledFir, FIR_TAPS_MAX, type Fir, Resampler, type ResamplerOptions, resampled } from './resample'
export { takeBounds } from './take-bounds'
export { TRUE_PEAK_DELAY, TRUE_PEAK_GROUP, TruePeak, truePeakAt, truePeakWithin } from './true-peak'
