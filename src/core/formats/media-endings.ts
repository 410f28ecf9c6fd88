/** A kind of media file, by the ending of its name. */
interface MediaKind {
  readonly mime: string
  readonly hasPicture: boolean
  /** A file of this kind is taken for a sound of its own in folders and lists. */
  readonly isSound: boolean
  /** Rights are written into its tags. */
  readonly isTagged: boolean
}

const sound = (mime: string, isTagged = true): MediaKind => ({ mime, hasPicture: false, isSound: true, isTagged })
const video = (mime: string): MediaKind => ({ mime, hasPicture: true, isSound: false, isTagged: false })

/** Every kind of media file that is taken anywhere: the one table. */
const MEDIA: Readonly<Record<string, MediaKind>> = {
  wav: sound('audio/wav'),
  wave: sound('audio/wav', false),
  bwf: sound('audio/wav', false),
  flac: sound('audio/flac'),
  mp3: sound('audio/mpeg'),
  ogg: sound('audio/ogg'),
  oga: sound('audio/ogg', false),
  opus: sound('audio/ogg'),
  m4a: sound('audio/mp4'),
  aac: sound('audio/aac', false),
  aif: sound('audio/aiff'),
  aiff: sound('audio/aiff'),
  mka: sound('audio/x-matroska', false),
  mp4: video('video/mp4'),
  m4v: video('video/mp4'),
  mov: video('video/quicktime'),
  mkv: video('video/x-matroska'),
  webm: video('video/webm'),
}

/** Ending of a file's name, small, without the dot; empty where there is none. */
export function endingOf(fileName: string): string {
  return /\.([A-Za-z0-9]+)$/.exec(fileName)?.[1]?.toLowerCase() ?? ''
}

/** Media type of a file by its name, or null for a kind that is not taken. */
export function findMime(fileName: string): string | null {
  return kindOf(fileName)?.mime ?? null
}

/** Whether a file is a video by its name. */
export function isVideoFile(fileName: string): boolean {
  return kindOf(fileName)?.hasPicture === true
}

/** Whether a file is a sound by its name. */
export function isSoundFile(fileName: string): boolean {
  return kindOf(fileName)?.isSound === true
}

/** Whether rights are written into the tags of files with this ending. */
export function isTaggedEnding(ending: string): boolean {
  return own(ending.toLowerCase())?.isTagged === true
}

function kindOf(fileName: string): MediaKind | undefined {
  return own(endingOf(fileName))
}

/** A name may end in the name of a property that every object has. */
function own(ending: string): MediaKind | undefined {
  return Object.hasOwn(MEDIA, ending) ? MEDIA[ending] : undefined
}
