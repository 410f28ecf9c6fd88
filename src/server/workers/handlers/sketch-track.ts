import fs from 'node:fs'
import { type CutSection, matchCuts, SKETCH_BANDS, type TrackSketch, trackSketch } from '../../../core/recut'
import type { MatchTask, SketchTask, TaskResult } from '../tasks'
import { writeAtomically } from './features-files'
import { trackFrom } from './shared-memory'
import { asTaskResult } from './task-result'

/** Sketches a track into a file. */
export function sketchTrack({ track, into }: SketchTask): Promise<TaskResult<boolean>> {
  return asTaskResult(async () => {
    const whole = trackFrom(track)
    const { values } = trackSketch((from, length) => whole.midSamples(from, from + length), whole.frames)
    writeAtomically(into, new Uint8Array(values.buffer, values.byteOffset, values.byteLength))
    return true
  })
}

/** Where the parts of one sketch are in another. */
export function matchSketches({ oldPath, newPath }: MatchTask): Promise<TaskResult<CutSection[]>> {
  return asTaskResult(async () => matchCuts(readSketch(oldPath), readSketch(newPath)))
}

function readSketch(path: string): TrackSketch {
  const bytes = fs.readFileSync(path)
  const values = new Int8Array(bytes.buffer, bytes.byteOffset, bytes.byteLength)
  return { values, count: Math.floor(values.length / SKETCH_BANDS) }
}
