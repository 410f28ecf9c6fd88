import type { Cut } from '../../contract'
import { DEFAULT_FRAME_RATE, type FrameRate, mayDropFrames } from '../../core/formats/timecode'
import { cutLengthS, loudnessOfBytes } from '../../core/moments'

/** A cut is shown as long as one frame at least, s. */
const SHORTEST_S = 0.04

/** Length of a cut as it is shown, s. */
export function cutDurationS(cut: Cut): number {
  return Math.max(SHORTEST_S, cutLengthS(cut))
}

export function cutRate({ picture }: Cut): FrameRate {
  return picture?.frameRate ?? DEFAULT_FRAME_RATE
}

export function cutDrops(cut: Cut): boolean {
  return mayDropFrames(cutRate(cut))
}

/** Momentary loudness of a cut, ten values a second, LUFS; -120 for silence. */
export function momentaryOf({ sound }: Cut): Float32Array {
  if (!sound) return new Float32Array(0)
  return loudnessOfBytes(Uint8Array.from(atob(sound.momentaryBase64), (letter) => letter.charCodeAt(0)))
}

/** What is to be said about a cut that could not be read in whole, in sentences. */
export function cutNotes(cut: Cut): string[] {
  const { sound, picture } = cut
  const notes: string[] = []
  if (!sound)
    notes.push('The cut has no sound track: what is heard in it cannot be told, and moments are not carried over.')
  if (sound && sound.end !== 'whole')
    notes.push(`The sound track breaks off: it could be decoded up to ${sound.durationS.toFixed(1)} s.`)
  if (!picture && !cut.wantsPicture) notes.push('The cut has no picture: timecode counts 25 frames a second.')
  if (picture?.note) notes.push(picture.note)
  if (picture?.isVariable)
    notes.push(
      'Its frames come unevenly (variable frame rate). Each is stepped to as it is; timecode goes by their mean.',
    )
  return notes
}
