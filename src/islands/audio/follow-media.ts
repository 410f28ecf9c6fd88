import type { PlayClock } from './play-clock'

/** A frame that takes longer than this was a pause of the page and not of the media, s. */
const GLIDE_MAX_S = 0.25

/**
 * Lets a clock follow a media element on every frame while it plays, and at every seek. The element tells its time in steps; between them the
 * clock glides on at the rate that it plays.
 *
 * @returns Ends it.
 */
export function followMedia(media: HTMLMediaElement, clock: PlayClock): () => void {
  let frame = 0
  let toldS = media.currentTime
  let toldAtMs = performance.now()
  const tick = (): void => {
    const nowMs = performance.now()
    if (media.currentTime !== toldS) [toldS, toldAtMs] = [media.currentTime, nowMs]
    const glideS = Math.min(GLIDE_MAX_S, (nowMs - toldAtMs) / 1000) * media.playbackRate
    clock.set(media.paused ? media.currentTime : toldS + glideS)
    frame = media.paused ? 0 : requestAnimationFrame(tick)
  }
  const wake = (): void => {
    ;[toldS, toldAtMs] = [media.currentTime, performance.now()]
    if (frame === 0) tick()
  }
  const events = ['play', 'playing', 'pause', 'seeking', 'seeked', 'loadedmetadata'] as const
  for (const event of events) media.addEventListener(event, wake)
  return () => {
    cancelAnimationFrame(frame)
    for (const event of events) media.removeEventListener(event, wake)
  }
}
