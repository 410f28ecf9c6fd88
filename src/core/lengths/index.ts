export { FIT_LIMITS, type FitRequest, type FittedLength, fitLength } from './fit-length'
