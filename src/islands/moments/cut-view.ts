import type { Cut } from '../../contract'
import { DEFAULT_FRAME_RATE, type FrameRate, mayDropFrames } from '../../core/formats/timecode'
import { cutLengthS, loudnessOfBytes } from '../../core/moments'
import { messages } from '../../messages'

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
  if (!sound) notes.push(messages.moments.theCutHasNoSound)
  if (sound && sound.end !== 'whole') notes.push(messages.moments.theSoundTrackBreaksOff(sound.durationS.toFixed(1)))
  if (!picture && !cut.wantsPicture) notes.push(messages.moments.theCutHasNoPicture)
  if (picture?.note) notes.push(picture.note)
  if (picture?.isVariable) notes.push(messages.moments.itsFrameRateVaries)
  return notes
}
