// A worker whose tasks hang on purpose, as a decoder does on a damaged file.
const RATE_HZ = 16000

/** Tells that it has begun and has decoded a second, and then never comes back. */
export function hang({ pulse }) {
  const numbers = new Int32Array(pulse)
  Atomics.store(numbers, 1, 1000)
  Atomics.store(numbers, 0, 1)
  for (;;);
}

/** Goes on for ever, a little at a time. */
export function trickle({ pulse }) {
  const numbers = new Int32Array(pulse)
  Atomics.store(numbers, 0, 1)
  for (;;) {
    Atomics.add(numbers, 1, 1)
    Atomics.wait(numbers, 1, -1, 100)
    const until = performance.now() + 50
    while (performance.now() < until);
  }
}

/** Computes for longer than a decoder may be silent, and ends. */
export function think({ pulse, forMs }) {
  const numbers = new Int32Array(pulse)
  Atomics.store(numbers, 0, 2)
  const until = performance.now() + forMs
  while (performance.now() < until);
  return { ok: true, value: 'thought' }
}

/** Fills its thread's memory. */
export function fill() {
  const kept = []
  for (;;) kept.push(Array.from({ length: 100_000 }, (_, index) => ({ index })))
}

/** Gives a second of a track and hangs; asked to stop before that, it does. */
export function decodeTrack({ memory, pulse, untilS, port }) {
  const numbers = new Int32Array(pulse)
  Atomics.store(numbers, 0, 1)
  port.postMessage(0)
  memory.mid.grow(2 * RATE_HZ)
  Atomics.store(new Int32Array(memory.ready), 0, RATE_HZ)
  Atomics.store(numbers, 1, 1000)
  if (untilS !== null) return { ok: true, value: { durationS: untilS, end: 'stalled' } }
  for (;;);
}

/** Reads the text "endless" for ever, and any other at once. */
export function readLicenceText({ text }) {
  while (text === 'endless');
  return { ok: true, value: { licences: [], like: null, clauses: [], open: [] } }
}

export function compareTexts({ before }) {
  return readLicenceText({ text: before })
}

export function hearVoices() {
  return { ok: true, value: new Float32Array(31) }
}
