import { EDL_EVENT, edlLines, hoursBefore, hoursInS, hoursWords } from '../formats/edl'
import {
  isObject,
  type Json,
  OTIO_DEEPEST,
  OTIO_METADATA_KEY,
  otioKind,
  otioRoot,
  rangeInS,
  secondsOf,
} from '../formats/otio'
import { type FrameRate, frameOfTimecode, frameStartS, nominalRate } from '../formats/timecode'
import { score as messages } from '../wording/score'

/** A sound that a list of another program places. */
export interface ListedClip {
  /** As the list names its file, without folders. */
  readonly fileName: string
  readonly trackName: string
  readonly startS: number
  /** Length in the video, s. */
  readonly lengthS: number
  /** Where it begins in its file, s. */
  readonly fromS: number
  /** 2 is twice as fast. */
  readonly rate: number
  readonly gainDb: number | null
  readonly fadeInS: number | null
  readonly fadeOutS: number | null
  /** Values that we wrote into the list ourselves, not checked; null for clips of others. */
  readonly own: Json | null
}

export interface ListRead {
  readonly clips: readonly ListedClip[]
  /** What of the list means nothing here, as sentences, each once. */
  readonly leftOut: readonly string[]
}

/** More clips than these are not read. */
export const LISTED_CLIPS_MAX = 2000

/** Reads what a timeline of OpenTimelineIO places, as far as it has a meaning here. @returns Null for what is no such file. */
export function clipsFromOtio(text: string): ListRead | null {
  const root = otioRoot(text)
  if (!root) return null
  const into: Gathered = { clips: [], leftOut: new Set() }
  gather(isObject(root.tracks) ? root.tracks : root, { atS: 0, trackName: '', depth: 0, fades: NO_FADES }, into)
  return readOf(into)
}

interface Gathered {
  readonly clips: ListedClip[]
  readonly leftOut: Set<string>
}

interface Place {
  readonly atS: number
  readonly trackName: string
  readonly depth: number
  /** Of the item, by the transitions beside it. */
  readonly fades: Fades
}

/** @returns Length of the item in the whole, s. */
function gather(item: Json, place: Place, into: Gathered): number {
  const { atS, trackName, depth } = place
  if (depth > OTIO_DEEPEST) {
    into.leftOut.add(messages.partsThatAreNestedMore(OTIO_DEEPEST))
    return 0
  }
  const kind = otioKind(item)
  const source = rangeInS(item.source_range)
  if (kind === 'Clip') return addClip(item, place, into)
  if (kind === 'Gap') return source?.durationS ?? 0
  if (kind === 'Track' && item.kind === 'Video' && countClips(item) > 0) into.leftOut.add(messages.tracksWithPictures)
  if (kind === 'Track' && item.kind === 'Video') return lengthOf(item)
  const isSequence = kind === 'Track'
  const trimmedS = source?.startS ?? 0
  if (depth > 1 && kind === 'Stack') into.leftOut.add(messages.thatPartsWereGroupedTheir)
  let lengthS = 0
  const children = childrenOf(item)
  for (const [index, child] of children.entries()) {
    if (otioKind(child) === 'Transition') {
      // Between two sounds it is another thing than two fades.
      if (otioKind(children[index - 1]) === 'Clip' && otioKind(children[index + 1]) === 'Clip')
        into.leftOut.add(messages.transitionsBetweenTwoSoundsSet)
      continue
    }
    const name = child.OTIO_SCHEMA === 'Track.1' && typeof child.name === 'string' ? child.name : trackName
    const childAtS = atS - trimmedS + (isSequence ? lengthS : 0)
    const childPlace = { atS: childAtS, trackName: name, depth: depth + 1, fades: fadesOf(children, index) }
    const childS = gather(child, childPlace, into)
    lengthS = isSequence ? lengthS + childS : Math.max(lengthS, childS)
  }
  return source?.durationS ?? lengthS
}

type Fades = Pick<ListedClip, 'fadeInS' | 'fadeOutS'>
const NO_FADES: Fades = { fadeInS: null, fadeOutS: null }

/** Transitions beside a clip that lie between it and silence: how far they reach into it. */
function fadesOf(children: readonly Json[], index: number): Fades {
  const [before, after] = [children[index - 1], children[index + 1]]
  const reach = (transition: Json | undefined, beyond: Json | undefined, key: 'in_offset' | 'out_offset') => {
    if (otioKind(transition) !== 'Transition' || otioKind(beyond) === 'Clip') return null
    const reachS = secondsOf(transition?.[key])
    return reachS !== null && reachS > 0 ? reachS : null
  }
  return {
    fadeInS: reach(before, children[index - 2], 'out_offset'),
    fadeOutS: reach(after, children[index + 2], 'in_offset'),
  }
}

function childrenOf(item: Json): Json[] {
  return Array.isArray(item.children) ? item.children.filter(isObject) : []
}

function countClips(item: Json): number {
  return childrenOf(item).filter((child) => otioKind(child) === 'Clip').length
}

function lengthOf(item: Json): number {
  return childrenOf(item).reduce((sum, child) => sum + (rangeInS(child.source_range)?.durationS ?? 0), 0)
}

function addClip(clip: Json, { atS, trackName, fades }: Place, { clips, leftOut }: Gathered): number {
  const media = mediaOf(clip)
  const range = rangeInS(clip.source_range) ?? rangeInS(media?.available_range)
  if (!range || !(range.durationS > 0)) {
    leftOut.add(messages.clipsWithoutALength)
    return 0
  }
  const metadata = isObject(clip.metadata) ? clip.metadata[OTIO_METADATA_KEY] : null
  if (clips.length >= LISTED_CLIPS_MAX) leftOut.add(messages.clipsBeyondTheFirst(LISTED_CLIPS_MAX))
  else
    clips.push({
      fileName: fileNameOf(clip, media),
      trackName,
      startS: atS,
      lengthS: range.durationS,
      fromS: Math.max(0, range.startS),
      rate: rateOf(clip, leftOut),
      gainDb: null,
      ...fades,
      own: isObject(metadata) ? metadata : null,
    })
  return range.durationS
}

/** The media of a clip: by its key in newer files, alone in older ones. */
function mediaOf(clip: Json): Json | null {
  if (isObject(clip.media_reference)) return clip.media_reference
  if (!isObject(clip.media_references)) return null
  const key = typeof clip.active_media_reference_key === 'string' ? clip.active_media_reference_key : 'DEFAULT_MEDIA'
  const active = clip.media_references[key]
  return isObject(active) ? active : null
}

function fileNameOf(clip: Json, media: Json | null): string {
  const address = typeof media?.target_url === 'string' ? media.target_url : ''
  const last = address.split(/[/\\]/).pop() ?? ''
  let plain = last
  try {
    plain = decodeURIComponent(last)
  } catch {
    // A name with a lone per cent sign is meant as it stands.
  }
  return (plain || (typeof clip.name === 'string' ? clip.name : '')).slice(0, 300)
}

/** Speed of a clip; effects that change it otherwise are said. */
function rateOf(clip: Json, leftOut: Set<string>): number {
  let rate = 1
  for (const effect of Array.isArray(clip.effects) ? clip.effects.filter(isObject) : []) {
    const schema = String(effect.OTIO_SCHEMA)
    if (schema.startsWith('LinearTimeWarp') && typeof effect.time_scalar === 'number' && effect.time_scalar > 0)
      rate *= effect.time_scalar
    else if (schema.startsWith('FreezeFrame') || schema.startsWith('LinearTimeWarp'))
      leftOut.add(messages.soundsThatStandStillOr)
    else leftOut.add(messages.effectsOnClips)
  }
  return rate
}

const SPEED = /^M2\s+\S+\s+(-?\d{1,5}(?:\.\d{1,4})?)/

interface OpenClip {
  clip: ListedClip
}

/**
 * Reads what an edit decision list (CMX 3600) places on its sound channels, with the file, level and fades of its comment lines.
 *
 * @param rate Of the list: the format does not name it. @returns Null for what is no such list.
 */
export function clipsFromEdl(text: string, rate: FrameRate): ListRead | null {
  const lines = edlLines(text)
  if (!lines) return null
  const leftOut = new Set<string>()
  const open: OpenClip[] = []
  let current: OpenClip | null = null
  let drop = false
  for (const raw of lines) {
    const line = raw.trim()
    if (/^FCM:/i.test(line)) drop = /^FCM:\s*DROP/i.test(line)
    const event = EDL_EVENT.exec(line)
    if (event) {
      const clip = clipOfEvent(event, rate, drop)
      current = typeof clip === 'string' ? null : { clip }
      if (typeof clip === 'string') leftOut.add(clip)
      else if (open.length >= LISTED_CLIPS_MAX) leftOut.add(messages.clipsBeyondTheFirst(LISTED_CLIPS_MAX))
      else open.push(current as OpenClip)
      if ((event[4] as string) !== 'C') leftOut.add(messages.transitionsSetFadesHere)
    } else if (current) takeLine(current, line, rate, leftOut)
  }
  const clips = open.map(({ clip }) => clip)
  const hours = hoursBefore(clips.map(({ startS }) => startS))
  if (hours > 0) leftOut.add(hoursWords(hours))
  return readOf({ clips: clips.map((clip) => ({ ...clip, startS: clip.startS - hoursInS(hours) })), leftOut })
}

/** @returns What is wrong with it, or why it is left out, where it is no sound that can be placed. */
function clipOfEvent(event: RegExpExecArray, rate: FrameRate, drop: boolean): ListedClip | string {
  const channel = event[3] as string
  if (!/^(?:A|AA|B|NONE)/i.test(channel)) return messages.tracksWithPictures
  if ((event[2] as string).toUpperCase() === 'BL') return messages.silence
  const frames: number[] = []
  for (const code of event.slice(5, 9)) {
    const read = frameOfTimecode((code as string).replace(/^(\d\d)[;.](\d\d)[;.](\d\d)/, '$1:$2:$3'), rate, drop)
    if ('problem' in read)
      return read.problem === 'frame-too-high'
        ? messages.eventsThatCountMoreThan(nominalRate(rate))
        : messages.eventsWithTimesThatDo
    frames.push(read.frame)
  }
  const [from, , start, end] = frames.map((frame) => frameStartS(frame, rate)) as [number, number, number, number]
  if (!(end > start)) return messages.clipsWithoutALength
  return {
    fileName: event[2] as string,
    trackName: /^A\d/i.test(channel) ? messages.channel(channel.slice(1)) : messages.channel1,
    startS: start,
    lengthS: end - start,
    fromS: from,
    rate: 1,
    gainDb: null,
    fadeInS: null,
    fadeOutS: null,
    own: null,
  }
}

/** What a line below an event says of it. */
function takeLine(open: OpenClip, line: string, rate: FrameRate, leftOut: Set<string>): void {
  const speed = SPEED.exec(line)
  if (speed) {
    const times = Number(speed[1]) / nominalRate(rate)
    if (times > 0) open.clip = { ...open.clip, rate: times }
    else leftOut.add(messages.soundsThatStandStillOr)
    return
  }
  if (!line.startsWith('*')) return
  const colon = line.indexOf(':')
  const key = line.slice(1, colon).trim().toUpperCase()
  const value = line.slice(colon + 1).trim()
  const number = Number.parseFloat(value)
  if (key === 'FROM CLIP NAME' && value) open.clip = { ...open.clip, fileName: value.slice(0, 300) }
  else if (!Number.isFinite(number)) return
  else if (key === 'LEVEL') open.clip = { ...open.clip, gainDb: number }
  else if (key === 'FADE IN') open.clip = { ...open.clip, fadeInS: number }
  else if (key === 'FADE OUT') open.clip = { ...open.clip, fadeOutS: number }
}

function readOf({ clips, leftOut }: Gathered): ListRead {
  return { clips, leftOut: [...leftOut] }
}
