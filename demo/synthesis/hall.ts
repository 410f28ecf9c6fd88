import { hallEntry } from '../../src/standins/quarry-hall'
import { encoded, previewOf } from './encode'
import { body, Chance, drawn, filtered, finished, mixIn, RATE_HZ, seconds, shaped, strike, whiteNoise } from './toolkit'

/** How long each kind of place rings, s, and how much of it is heard. */
const ROOMS: Readonly<Record<string, readonly [tailS: number, wet: number]>> = {
  stairwell: [1.4, 0.5],
  tunnel: [1.8, 0.6],
  chapel: [2, 0.5],
  hall: [1.2, 0.4],
  tower: [1.3, 0.5],
  station: [1.1, 0.4],
}

/** The recording of an entry of Quarry Hall, made from its number: the same on every machine, no two alike. */
export function hallSound(index: number): Float32Array[] {
  const { subject, way, place, secs } = hallEntry(index)
  const chance = new Chance(index + 7001)
  const dry = recipe(subject, way, secs, chance)
  const [tailS, wet] = ROOMS[place] ?? [0.3, 0.15]
  return finished([ringing(dry, tailS, wet, chance)])
}

/** A room by four feedback combs: quick, since previews are made while somebody waits. Source: M. R. Schroeder, 1962. */
function ringing(dry: Float32Array, tailS: number, wet: number, chance: Chance): Float32Array {
  const out = new Float32Array(dry.length + Math.round(tailS * RATE_HZ))
  out.set(dry)
  for (let comb = 0; comb < 4; comb++) {
    const delayS = chance.between(0.023, 0.047)
    const delay = Math.round(delayS * RATE_HZ)
    const back = 10 ** ((-3 * delayS) / tailS)
    const line = new Float32Array(delay)
    for (let i = 0, at = 0; i < out.length; i++, at = at + 1 === delay ? 0 : at + 1) {
      const late = line[at] as number
      out[i] = (out[i] as number) + (wet / 4) * late
      line[at] = (dry[i] ?? 0) + back * late
    }
  }
  return out
}

function recipe(subject: string, way: string, durationS: number, chance: Chance): Float32Array {
  const pitchHz = 70 + ((subject.charCodeAt(0) * 37 + subject.length * 101) % 900)
  const partials = Array.from({ length: 4 }, (_, number): [number, number, number] => [
    pitchHz * (number + 1) * chance.between(0.93, 1.09),
    chance.between(0.2, 1) / (number + 1),
    durationS * chance.between(0.2, 0.8),
  ])
  const noise = filtered(whiteNoise(durationS, chance), 'band', pitchHz * chance.between(2, 7), chance.between(0.8, 4))
  if (/dragged|scraped|rolled|turned|wound|pushed|pulled/.test(way)) {
    const rateHz = chance.between(5, 22)
    return shaped(
      noise,
      (t) => Math.sin(Math.PI * Math.min(1, t / durationS)) * (0.4 + 0.6 * Math.abs(Math.sin(rateHz * t * Math.PI))),
    )
  }
  const out = seconds(durationS)
  const hits = /shaken|broken|thrown|tapped/.test(way) ? 3 + Math.floor(chance.between(0, 5)) : 1
  for (let hit = 0; hit < hits; hit++) {
    const atS = hit === 0 ? 0 : chance.between(0, durationS * 0.7)
    mixIn(out, body(durationS, partials), atS, chance.between(0.4, 1))
    mixIn(out, shaped(noise, strike(0.001, chance.between(0.05, durationS))), atS, chance.between(0.2, 0.9))
  }
  const fade = drawn(durationS, (t) => Math.min(1, (durationS - t) / 0.05))
  return out.map((value, at) => value * (fade[at] ?? 0))
}

/** A preview or the recording, as the library hands them out. */
export function hallAudio(index: number, part: 'preview' | 'recording'): Promise<Uint8Array> {
  const channels = hallSound(index)
  return part === 'preview' ? previewOf(channels) : encoded(channels, 'wav')
}
