export { type CutSection, matchCuts } from './match'
export { SKETCH_BANDS, SKETCH_RATE_HZ, SKETCH_STEP_S, type TrackSketch, trackSketch } from './sketch'
