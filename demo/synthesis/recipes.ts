import {
  body,
  type Chance,
  drawn,
  filtered,
  inRoom,
  mixIn,
  pinkNoise,
  RATE_HZ,
  saw,
  seconds,
  shaped,
  strike,
  tone,
  whiteNoise,
} from './toolkit'

/** Makes a sound from chance and one to four numbers. Returns one or two channels, not yet scaled. */
export type Recipe = (chance: Chance, ...numbers: number[]) => Float32Array[]

/** A heavy thing falls: a low body that drops in pitch, a short thump of noise. */
export const thud: Recipe = (chance, lowHz = 62, lengthS = 0.6, dirt = 0.4) => {
  const low = shaped(
    tone(lengthS, (t) => lowHz * (1 + 0.9 * Math.exp(-t / 0.025))),
    strike(0.003, lengthS * 0.8),
  )
  const skin = shaped(filtered(whiteNoise(lengthS, chance), 'low', 900), strike(0.001, 0.12))
  const grit = shaped(filtered(whiteNoise(lengthS, chance), 'band', 2400, 0.8), strike(0.001, 0.05))
  return [low.map((v, i) => v + dirt * (1.4 * (skin[i] as number) + 0.6 * (grit[i] as number)))]
}

/** A hit for a reveal: sub drop, crack and a long room. */
export const hit: Recipe = (chance, rootHz = 48, tailS = 2.2, metal = 0.3) => {
  const dry = thud(chance, rootHz, 0.9, 0.8)[0] as Float32Array
  const ring = body(
    0.9,
    [1, 2.76, 5.4, 8.93].map((ratio, k) => [rootHz * 4.1 * ratio, metal / (k + 1), 0.9 / (k + 1)] as const),
  )
  return inRoom(
    dry.map((v, i) => v + (ring[i] as number)),
    tailS,
    0.8,
    chance,
  )
}

/** Something rises until the cut: noise and a cluster climb together, then stop. */
export const swell: Recipe = (chance, lengthS = 3, fromHz = 200, toHz = 5200) => {
  const climb = (t: number): number => fromHz * (toHz / fromHz) ** ((t / lengthS) ** 1.3)
  const air = filtered(pinkNoise(lengthS, chance), 'band', climb, 1.4)
  const level = (t: number): number => (t / lengthS) ** 2.2
  const side = (detune: number): Float32Array => {
    const voice = tone(lengthS, (t) => (climb(t) / 6) * detune, saw)
    const soft = filtered(voice, 'low', (t) => climb(t) * 0.8)
    return shaped(
      air.map((v, i) => 1.6 * v + 0.35 * (soft[i] as number)),
      level,
    )
  }
  return [side(0.994), side(1.007)]
}

/** Something passes: filtered noise that swells and falls, its colour bending with it. */
export const whoosh: Recipe = (chance, lengthS = 0.8, centreHz = 1400, sharp = 1.2) => {
  const middle = lengthS * chance.between(0.42, 0.58)
  const near = (t: number): number => Math.exp(-(((t - middle) / (lengthS * 0.22)) ** 2))
  const noise = whiteNoise(lengthS, chance)
  const moving = filtered(noise, 'band', (t) => centreHz * (0.35 + 1.3 * near(t)), sharp)
  const pan = (t: number): number => Math.min(1, Math.max(0, (t / lengthS) * 1.2 - 0.1))
  const left = shaped(moving, (t) => near(t) * Math.cos((pan(t) * Math.PI) / 2))
  const right = shaped(moving, (t) => near(t) * Math.sin((pan(t) * Math.PI) / 2))
  return [left, right]
}

/** Wind over a ridge: bands of noise that gust and whistle. */
export const wind: Recipe = (chance, lengthS = 14, whistle = 0.4, lowHz = 320) => {
  const gusts = Array.from({ length: 5 }, () => [chance.between(0.05, 0.4), chance.between(0, 6.3)] as const)
  const gust = (t: number): number => {
    let sum = 0
    for (const [rate, phase] of gusts) sum += Math.sin(2 * Math.PI * rate * t + phase)
    return 0.5 + 0.5 * Math.tanh(sum * 0.7)
  }
  const side = (): Float32Array => {
    const low = filtered(pinkNoise(lengthS, chance), 'low', (t) => lowHz * (0.6 + 1.2 * gust(t)))
    const high = filtered(whiteNoise(lengthS, chance), 'band', (t) => 700 + 900 * gust(t), 9)
    return drawn(
      lengthS,
      (t, i) => (0.35 + gust(t)) * ((low[i] as number) * 1.5 + whistle * gust(t) * (high[i] as number)),
    )
  }
  return [side(), side()]
}

/** A switch: two clicks of a small body, apart by the travel of the lever. */
export const switchClack: Recipe = (chance, bodyHz = 2100, gapS = 0.045, weight = 0.4) => {
  const out = seconds(0.28)
  const click = (brightness: number): Float32Array => {
    const snap = shaped(filtered(whiteNoise(0.12, chance), 'high', 1800 * brightness), strike(0.0004, 0.02))
    const ring = body(0.12, [
      [bodyHz * brightness, 0.5, 0.05],
      [bodyHz * 1.83 * brightness, 0.3, 0.03],
      [bodyHz * 0.31, weight, 0.07],
    ])
    return snap.map((v, i) => 0.7 * v + (ring[i] as number))
  }
  mixIn(out, click(1.1), 0.004, 0.6)
  mixIn(out, click(1), 0.004 + gapS, 1)
  return [out]
}

/** A motor with gears: harmonics that wobble, a grinding band, run-up and run-down. */
export const motor: Recipe = (chance, rateHz = 84, lengthS = 5, grind = 0.5) => {
  const speed = (t: number): number => Math.min(1, t / 0.7) * Math.min(1, Math.max(0, (lengthS - t) / 0.6))
  const wobble = (t: number): number =>
    1 + 0.012 * Math.sin(2 * Math.PI * 3.1 * t) + 0.006 * Math.sin(2 * Math.PI * 7.7 * t)
  const hum = tone(
    lengthS,
    (t) => rateHz * (0.35 + 0.65 * speed(t)) * wobble(t),
    (cycles) => {
      let sum = 0
      for (let k = 1; k <= 9; k++) sum += Math.sin(2 * Math.PI * cycles * k + k) / k ** 0.9
      return sum
    },
  )
  const teeth = tone(lengthS, (t) => rateHz * 11.3 * (0.35 + 0.65 * speed(t)) * wobble(t), saw)
  const noise = filtered(whiteNoise(lengthS, chance), 'band', (t) => 600 + 1400 * speed(t), 1.1)
  return [
    drawn(
      lengthS,
      (t, i) =>
        speed(t) *
        ((hum[i] as number) * 0.5 +
          grind * ((teeth[i] as number) * 0.25 + (noise[i] as number) * (0.6 + 0.4 * (teeth[i] as number)))),
    ),
  ]
}

/** A servo slews: a pitch that glides up, holds and glides down, with a thin whine above it. */
export const servo: Recipe = (chance, fromHz = 240, toHz = 880, lengthS = 1.6) => {
  const glide = (t: number): number => {
    const x = Math.min(1, t / 0.25) * Math.min(1, Math.max(0, (lengthS - t) / 0.3))
    return fromHz + (toHz - fromHz) * x * x * (3 - 2 * x)
  }
  const drive = tone(
    lengthS,
    glide,
    (c) => Math.sign(Math.sin(2 * Math.PI * c)) * 0.4 + 0.6 * Math.sin(2 * Math.PI * c),
  )
  const whine = tone(lengthS, (t) => glide(t) * 4.02)
  const noise = filtered(whiteNoise(lengthS, chance), 'band', (t) => glide(t) * 3, 2)
  return [
    drawn(lengthS, (t, i) => {
      const edge = Math.min(1, t / 0.05, (lengthS - t) / 0.08)
      return edge * (0.6 * (drive[i] as number) + 0.2 * (whine[i] as number) + 0.7 * (noise[i] as number))
    }),
  ]
}

/** An owl calls: a few soft hoots, each a breathy tone that bends. */
export const owl: Recipe = (chance, pitchHz = 390, hoots = 4, paceS = 0.42) => {
  const total = hoots * paceS + 0.8
  const out = seconds(total)
  for (let k = 0; k < hoots; k++) {
    const long = k === hoots - 1 ? 0.62 : chance.between(0.16, 0.24)
    const bend = chance.between(0.96, 1.03)
    const call = tone(
      long,
      (t) => pitchHz * bend * (1 + 0.06 * Math.sin((Math.PI * t) / long)),
      (c) => Math.sin(2 * Math.PI * c) + 0.22 * Math.sin(4 * Math.PI * c) + 0.06 * Math.sin(6 * Math.PI * c),
    )
    const breath = filtered(whiteNoise(long, chance), 'band', pitchHz * 1.5, 3)
    const level = (t: number): number => Math.sin((Math.PI * t) / long) ** 0.7
    mixIn(
      out,
      shaped(
        call.map((v, i) => v + 0.5 * (breath[i] as number)),
        level,
      ),
      k * paceS,
      0.6 + 0.4 * chance.unit(),
    )
  }
  return inRoom(out, 1.2, 0.35, chance)
}

/** Ice gives way: a bright crack, then pings that fall in pitch as they run through the sheet. */
export const iceCrack: Recipe = (chance, lengthS = 1.4, pings = 9, brightHz = 3200) => {
  const out = seconds(lengthS)
  mixIn(out, shaped(filtered(whiteNoise(0.3, chance), 'high', 2500), strike(0.0006, 0.06)), 0.01, 1.2)
  for (let k = 0; k < pings; k++) {
    const start = brightHz * chance.between(0.5, 1.3)
    const ping = shaped(
      tone(0.5, (t) => start * (0.35 + 0.65 * Math.exp(-t / 0.05))),
      strike(0.0008, chance.between(0.12, 0.4)),
    )
    mixIn(out, ping, 0.02 + chance.unit() ** 1.8 * lengthS * 0.6, chance.between(0.1, 0.45))
  }
  return inRoom(out, 0.9, 0.3, chance)
}

/** A page is turned: paper noise in flurries, ending with a soft slap. */
export const pageTurn: Recipe = (chance, lengthS = 0.9, stiffness = 1) => {
  const noise = filtered(filtered(whiteNoise(lengthS, chance), 'high', 900 * stiffness), 'low', 7500)
  let flutter = 0
  const rough = drawn(lengthS, () => {
    flutter += (chance.unit() ** 6 - flutter) * 0.004
    return flutter
  })
  const out = drawn(lengthS, (t, i) => {
    const x = t / lengthS
    return (noise[i] as number) * ((rough[i] as number) * 9 + 0.05) * Math.sin(Math.PI * Math.min(1, x * 1.1)) ** 1.2
  })
  mixIn(out, shaped(filtered(whiteNoise(0.1, chance), 'low', 1500), strike(0.002, 0.06)), lengthS * 0.8, 0.35)
  return [out]
}

/** Radio static: crackles over hiss, with a carrier that drifts through. */
export const radioStatic: Recipe = (chance, lengthS = 3, carrierHz = 900, crackle = 0.5) => {
  const hiss = filtered(whiteNoise(lengthS, chance), 'band', (t) => 1900 + 500 * Math.sin(t * 2.1), 0.7)
  const drift = (t: number): number => carrierHz * (1 + 0.5 * Math.sin(1.3 * t + 0.6))
  const carrier = tone(lengthS, drift)
  let burst = 0
  return [
    drawn(lengthS, (t, i) => {
      if (chance.unit() < 25 / RATE_HZ) burst = chance.between(0.5, 2)
      burst *= 0.9985
      const edge = Math.min(1, t / 0.02, (lengthS - t) / 0.02)
      const near = 0.25 * Math.exp(-(((t - lengthS * 0.6) / (lengthS * 0.2)) ** 2))
      return edge * ((hiss[i] as number) * 0.7 + near * (carrier[i] as number) + crackle * burst * chance.noise())
    }),
  ]
}

/** Star shimmer: high bells at random, each very soft, long room. */
export const shimmer: Recipe = (chance, lengthS = 3, baseHz = 1760, density = 14) => {
  const out = seconds(lengthS)
  const scale = [1, 1.125, 1.333, 1.5, 1.682, 2, 2.25, 2.667]
  const count = Math.round(density * lengthS)
  for (let k = 0; k < count; k++) {
    const pitch = baseHz * (scale[Math.floor(chance.unit() * scale.length)] as number)
    const bell = body(1.2, [
      [pitch, 0.6, chance.between(0.4, 1)],
      [pitch * 2.003, 0.3, 0.5],
      [pitch * 3.42, 0.12, 0.25],
    ])
    const at = chance.unit() * lengthS * 0.85
    mixIn(out, bell, at, chance.between(0.15, 0.6) * Math.sin((Math.PI * (at + 0.1)) / lengthS))
  }
  return inRoom(out, 1.6, 0.7, chance)
}

/** A kettle: bubbling that thickens, then a whistle that finds its pitch. */
export const kettle: Recipe = (chance, lengthS = 7, whistleHz = 2350, whistleFrom = 0.45) => {
  const from = whistleFrom * lengthS
  const bubbles = seconds(lengthS)
  for (let t = 0; t < lengthS - 0.1; t += chance.between(0.006, 0.05)) {
    const pitch = chance.between(260, 900)
    const pop = shaped(
      tone(0.05, (x) => pitch * (1 + 6 * x)),
      strike(0.002, 0.04),
    )
    mixIn(bubbles, pop, t, chance.between(0.05, 0.3) * Math.min(1, 0.3 + t / from))
  }
  const steam = filtered(whiteNoise(lengthS, chance), 'band', 3800, 0.8)
  const whistle = tone(
    lengthS,
    (t) => whistleHz * (0.86 + 0.14 * Math.min(1, Math.max(0, (t - from) / 1.4))) * (1 + 0.004 * Math.sin(34 * t)),
  )
  return [
    drawn(lengthS, (t, i) => {
      const sing = Math.min(1, Math.max(0, (t - from) / 1.2)) * Math.min(1, (lengthS - t) / 0.4)
      const edge = Math.min(1, t / 0.3, (lengthS - t) / 0.25)
      return (
        edge *
        (0.5 * (bubbles[i] as number) +
          (0.12 + 0.25 * sing) * (steam[i] as number) +
          0.4 * sing * (whistle[i] as number))
      )
    }),
  ]
}

/** A shutter or door of sheet metal: a rattling run, then the stop. */
export const shutter: Recipe = (chance, lengthS = 2.4, slats = 18, bodyHz = 140) => {
  const out = seconds(lengthS)
  for (let k = 0; k < slats; k++) {
    const at = (k / slats) * lengthS * 0.72 + chance.between(-0.012, 0.012)
    const plate = body(0.25, [
      [bodyHz * chance.between(3.6, 4.4), 0.4, 0.12],
      [bodyHz * chance.between(8, 9.5), 0.3, 0.09],
      [bodyHz * chance.between(14, 17), 0.2, 0.06],
    ])
    mixIn(out, plate, Math.max(0, at), chance.between(0.25, 0.5))
    mixIn(out, shaped(filtered(whiteNoise(0.08, chance), 'band', 2600, 0.9), strike(0.001, 0.04)), Math.max(0, at), 0.3)
  }
  mixIn(out, thud(chance, bodyHz * 0.5, 0.5, 0.9)[0] as Float32Array, lengthS * 0.76, 1.1)
  return inRoom(out, 0.8, 0.35, chance)
}

/** Steps: a heel and a sole on gravel, snow or boards. */
export const steps: Recipe = (chance, count = 4, paceS = 0.52, gravel = 0.7) => {
  const out = seconds(count * paceS + 0.3)
  for (let k = 0; k < count; k++) {
    const at = k * paceS + chance.between(0, 0.03)
    mixIn(out, shaped(filtered(whiteNoise(0.2, chance), 'low', 420), strike(0.003, 0.09)), at, 1)
    let grain = 0
    const crunch = drawn(0.24, () => {
      if (chance.unit() < 900 / RATE_HZ) grain = chance.between(0.4, 1)
      grain *= 0.985
      return grain * chance.noise()
    })
    mixIn(
      out,
      shaped(filtered(crunch, 'band', 2600 + 700 * chance.unit(), 0.8), (t) => Math.sin((Math.PI * t) / 0.24)),
      at + 0.02,
      gravel,
    )
  }
  return [out]
}

/** A room or a night that hums to itself: soft broadband, mains partials, insects if any. */
export const ambience: Recipe = (chance, lengthS = 16, humHz = 50, insects = 0) => {
  const side = (): Float32Array => {
    const bed = filtered(pinkNoise(lengthS, chance), 'low', 1300)
    const chirps = Array.from(
      { length: 3 },
      () => [chance.between(3900, 5200), chance.between(2.2, 3.4), chance.unit() * 6] as const,
    )
    return drawn(lengthS, (t, i) => {
      const edge = Math.min(1, t / 0.5, (lengthS - t) / 0.5)
      let sum = (bed[i] as number) * 0.8
      if (humHz > 0)
        sum +=
          0.05 * Math.sin(2 * Math.PI * humHz * t) +
          0.03 * Math.sin(4 * Math.PI * humHz * t + 1) +
          0.015 * Math.sin(6 * Math.PI * humHz * t)
      for (const [pitch, rate, phase] of chirps) {
        const gate =
          Math.max(0, Math.sin(2 * Math.PI * rate * t + phase)) ** 6 * (0.5 + 0.5 * Math.sin(2 * Math.PI * 27 * t))
        sum += insects * 0.12 * gate * Math.sin(2 * Math.PI * pitch * t)
      }
      return edge * sum
    })
  }
  return [side(), side()]
}

/** A small signal of a machine: one to four pips. */
export const pips: Recipe = (_chance, pitchHz = 1320, count = 2, lengthS = 0.09) => {
  const out = seconds(count * lengthS * 1.7 + 0.2)
  for (let k = 0; k < count; k++) {
    const pip = tone(
      lengthS,
      () => pitchHz * (k === count - 1 ? 1.26 : 1),
      (c) => Math.tanh(2.2 * Math.sin(2 * Math.PI * c)),
    )
    mixIn(
      out,
      shaped(pip, (t) => Math.min(1, t / 0.004, (lengthS - t) / 0.02)),
      k * lengthS * 1.7,
      0.8,
    )
  }
  return inRoom(out, 0.35, 0.2, _chance)
}

/** Water poured into a cup: noise and bubbles whose pitch climbs as the cup fills. */
export const pour: Recipe = (chance, lengthS = 2.6, cupHz = 420) => {
  const splash = filtered(whiteNoise(lengthS, chance), 'band', (t) => 1500 + 500 * Math.sin(9 * t), 0.7)
  const out = splash.map((v, i) => 0.35 * v * Math.min(1, i / RATE_HZ / 0.1, (lengthS - i / RATE_HZ) / 0.3))
  for (let t = 0.05; t < lengthS - 0.15; t += chance.between(0.008, 0.03)) {
    const pitch = cupHz * (1 + 1.3 * (t / lengthS)) * chance.between(0.85, 1.25)
    mixIn(
      out,
      shaped(
        tone(0.07, (x) => pitch * (1 + 2 * x)),
        strike(0.003, 0.06),
      ),
      t,
      chance.between(0.05, 0.3),
    )
  }
  return [out]
}
