import type { MessagePort } from 'node:worker_threads'
import type { Peaks } from '../../core/audio'
import type {
  Detection,
  FalsePositiveModel,
  Opposition,
  Proposal,
  RawDetection,
  RecordingComparison,
  SoundKind,
} from '../../core/hearing'
import type { Likeness } from '../../core/likeness'
import type { Masking, OverVoice } from '../../core/mix'
import type { Placement, Score } from '../../core/score'
import type { TimeRange } from '../../core/time-range'
import type { DecodeEnd, MediaInfo } from '../media/decoder'
import type { Pulse } from './pulse'
import type { FileRights } from './tag-file'
import type { TrackMemory } from './track-memory'

/** Result of a task: error classes do not survive the way between threads. */
export type TaskResult<T> =
  | { readonly ok: true; readonly value: T }
  | { readonly ok: false; readonly code: string; readonly message: string }

/** What a thread sends back: the result, and how long the thread was at it. */
export type TimedResult<T> = TaskResult<T> & { readonly tookMs: number }

/** A track at the hearing rate, as the core's `Track` holds it, in shared memory. */
export interface SharedTrack {
  readonly mid: SharedArrayBuffer
  readonly side: SharedArrayBuffer | null
  readonly frames: number
  /** Middle and side are taken for each other: its side is searched. */
  readonly isExchanged?: true
}

/** Sound track of a media file, made ready. */
export interface DecodedTrack extends Opposition {
  readonly shared: SharedTrack
  /** Length of what was decoded, s. */
  readonly durationS: number
  readonly hasPicture: boolean
  readonly end: DecodeEnd
  /** What should be there and was not decoded. */
  readonly missing: readonly TimeRange[]
  readonly integratedLufs: number | null
  readonly truePeakDbtp: number | null
  readonly momentaryLufs: Float32Array
  readonly shortTermMaxLufs: number | null
  readonly loudnessRangeLu: number | null
  /** Lowest and highest sample of each column, -127 to 127. */
  readonly waveform: Int8Array
  /** Null where they were not asked for. */
  readonly peaks: Peaks | null
}

/** A task that reads a media file tells over this how far it is. */
export interface PulsedTask {
  readonly pulse?: Pulse
}

export interface InspectTask extends PulsedTask {
  readonly path: string
}

/** What a file holds, and what will decode it. */
export interface FileInspection extends MediaInfo {
  readonly decoder: { readonly name: string; readonly version: string }
}

/** Reads a track that was stored, into memory of 16 bits a frame. */
export interface ExpandTask {
  /** The compact form of the track. */
  readonly bytes: Uint8Array
  readonly mid: SharedArrayBuffer
}

/** What is left of a stored track without all that is heard in it. */
export interface StoredRestTask {
  /** The compact form of the track. */
  readonly bytes: Uint8Array
  readonly heard: readonly Detection[]
  /** Feature file of each sound; detections carry the index into this list. */
  readonly paths: readonly string[]
  /** Where someone speaks. */
  readonly speech: readonly TimeRange[]
}

/** One track of a file is decoded, as far as is told. */
export interface TrackTask extends PulsedTask {
  readonly path: string
  /** Which audio track, 0 for the first. */
  readonly trackIndex: number
  /** Where to stop, s; null for the end of the track. */
  readonly untilS: number | null
}

export interface DecodeTask extends TrackTask {
  readonly memory: TrackMemory
  readonly port: MessagePort | null
  /** Whether the peaks at all zooms are wanted. */
  readonly withPeaks: boolean
}

/** A stretch of a track, whitened and transformed, in shared memory. */
export interface SharedWindow {
  readonly start: number
  readonly frames: number
  readonly spectraRe: SharedArrayBuffer
  readonly spectraIm: SharedArrayBuffer
  readonly whitened: SharedArrayBuffer
  readonly whitenedHalf: SharedArrayBuffer
}

export interface PrepareTask {
  readonly track: SharedTrack
  readonly window: SharedWindow
}

/** A sound to look for: its feature file, and the index to report it under. */
export interface SearchedSound {
  readonly index: number
  readonly path: string
}

export interface SearchTask {
  readonly track: SharedTrack
  readonly windows: readonly SharedWindow[]
  readonly sounds: readonly SearchedSound[]
  /** Listened for backwards, to learn what chance gives. */
  readonly decoys: readonly SearchedSound[]
  /** Score from which a find is at least possible. */
  readonly threshold: number
  /** Whether other speeds are tried too, which takes far longer. */
  readonly treated: boolean
}

export interface SearchResult {
  readonly finds: readonly RawDetection[]
  readonly decoyScores: readonly number[]
  /** Indices of sounds whose features could not be read, with the reason. */
  readonly unreadable: readonly { readonly index: number; readonly reason: string }[]
}

/** A stretch of a track as it is looked up by: its patches, in shared memory. */
export interface SharedPatches {
  readonly start: number
  readonly frames: number
  readonly rows: SharedArrayBuffer
}

export interface PatchTask {
  readonly track: SharedTrack
  readonly patches: SharedPatches
}

/** Looks sounds up in a stretch of track, at all speeds. */
export interface LookUpTask {
  readonly patches: SharedPatches
  readonly sounds: readonly SearchedSound[]
  /** Sounds of which decoys are looked up too. */
  readonly decoys: readonly SearchedSound[]
  /** At most so many proposals are wanted. */
  readonly most: number
}

/** Places and speeds at which sounds may be, and those that are proposed for decoys of some of them. */
export interface Proposed {
  readonly ofSounds: readonly Proposal[]
  readonly ofDecoys: readonly Proposal[]
}

/** Hears what was looked up. */
export interface ConfirmTask {
  readonly track: SharedTrack
  readonly window: SharedWindow
  readonly sounds: readonly {
    readonly sound: SearchedSound
    readonly proposals: readonly Proposal[]
    /** Finds of the plain search for the sound in this window. */
    readonly plain: readonly RawDetection[]
  }[]
  /** Sounds of which decoys are heard, with what is proposed for these. */
  readonly decoys: readonly { readonly sound: SearchedSound; readonly proposals: readonly Proposal[] }[]
  /** Plain finds from this score on need no other explanation. */
  readonly threshold: number
  /** Lower finds are left out. */
  readonly scoreMin: number
}

export interface OverlapTask {
  readonly raw: readonly RawDetection[]
  /** Feature file of every sound that was searched. */
  readonly paths: readonly string[]
  readonly durationS: number
  readonly chance: FalsePositiveModel
  /** The same where sounds were looked up at other speeds. */
  readonly chanceAtSpeeds: FalsePositiveModel
  readonly groups: readonly (readonly number[])[]
  readonly shortlist: readonly number[]
  /** Among how many sounds those of the shortlist stand, and all others. */
  readonly counts: { readonly shortlist: number; readonly rest: number }
}

/** Takes the sounds that were heard in the side of a track out of it: the memory of the side is changed. */
export interface TakeOutTask {
  readonly track: SharedTrack
  readonly detections: readonly Detection[]
  readonly paths: readonly string[]
}

/** Takes the sounds that were heard out of a track, into memory of its own. */
export interface SubtractTask extends TakeOutTask {
  /** Memory for the rest, 16 bits a frame. */
  readonly rest: SharedArrayBuffer
}

/** Says where in a track someone speaks, while it is still being decoded. */
export interface VoiceTask {
  readonly memory: TrackMemory
}

/** Gives the compact form of a track. */
export interface CompactTask {
  readonly track: SharedTrack
}

/** Says what a track is made of. */
export interface BreakdownTask extends SubtractTask {
  /** Probability of a voice for each step of 32 ms. */
  readonly speech: Float32Array
}

/** Says from which level each sound would have been heard. */
export interface SensitivityTask {
  readonly track: SharedTrack
  readonly sounds: readonly SearchedSound[]
  readonly threshold: number
}

export interface Sensitivity {
  readonly index: number
  /** Lowest level, dB relative to the file; null where it would not be heard for sure at any. */
  readonly fromDb: number | null
  /** What it is to hearing; null where its features cannot be read. */
  readonly kind: SoundKind | null
}

/** Looks which feature files are of the same recording. */
export interface GroupTask {
  readonly paths: readonly string[]
  /** What was compared before. */
  readonly known?: readonly RecordingComparison[]
}

/** Looks whether some sounds played together are another one. */
export interface SumTask {
  /** Features of the whole, then of its stems. */
  readonly whole: string
  readonly stems: readonly string[]
}

/** Looks whether one of two feature files is of the other sound or of a piece of it. */
export interface PieceTask {
  readonly paths: readonly [string, string]
}

/** Moves what was written from the log into the database. */
export interface CheckpointTask {
  readonly dataDir: string
}

/** Counts the sounds of each source. */
export interface CountSoundsTask {
  readonly dataDir: string
}

/** Reads a stored file whole. */
export interface HashTask {
  readonly path: string
}

/** Reads what a text says of rights. */
export interface ReadTextTask {
  readonly text: string
}

/** Reads a table that lies beside sounds. */
export interface ReadTableTask {
  readonly path: string
}

/** Says what differs between two texts. */
export interface CompareTextsTask {
  readonly before: string
  readonly after: string
}

/** Writes rights into the tags of a file, in place. */
export interface TagTask extends PulsedTask {
  readonly path: string
  readonly ending: string
  readonly rights: FileRights
}

/** Writes a range of a file's sound track as WAV. */
export interface CutTask extends PulsedTask {
  readonly path: string
  readonly into: string
  /** Seconds. */
  readonly range: TimeRange
}

/** Describes how a file, or a range of it, sounds. */
export interface DescribeTask extends PulsedTask {
  readonly path: string
  /** Seconds; null for the whole. */
  readonly range: TimeRange | null
}

/** How a file sounds; the likeness is null for silence. */
export interface SoundDescription {
  readonly channels: number
  readonly loops: boolean
  readonly durationS: number
  readonly likeness: Likeness | null
}

export interface AnalyseTask extends PulsedTask {
  readonly path: string
  readonly featurePath: string
}

/** What is stored of a sound's audio. */
export interface SoundAnalysis {
  readonly durationS: number
  readonly loudnessLufs: number | null
  readonly hitS: number | null
  readonly printColumnS: number
  readonly printLevels: Uint8Array
  readonly description: SoundDescription
}

/** Sketches a track, to find its places in another cut; writes the sketch into a file. */
export interface SketchTask {
  readonly track: SharedTrack
  readonly into: string
}

/** Finds the parts of one sketch in another. */
export interface MatchTask {
  readonly oldPath: string
  readonly newPath: string
}

/** What a first look at the picture of a file says. */
export interface PictureLook {
  readonly hasPicture: boolean
  /** Whether its frames can be read here; else the browser may. */
  readonly canRead: boolean
}

/** Reads the picture of a cut, and writes its small pictures into a file. */
export interface PictureTask extends PulsedTask {
  readonly path: string
  readonly into: string
  readonly framesInto: string
  readonly port: MessagePort | null
}

/** Samples of a range of a cut, mixed to one channel. */
export interface SamplesTask extends PulsedTask {
  readonly path: string
  readonly range: TimeRange
}

/** A sound that is to be mixed, to be decoded into a file. */
export interface MixSourceTask extends PulsedTask {
  readonly path: string
  readonly into: string
}

/** A sound that is to have another length. */
export interface LengthTask extends PulsedTask {
  readonly path: string
  readonly fromS: number
  readonly toS: number
  readonly wantedS: number
  readonly barS: number | null
}

/** A placed sound whose loudness is asked for. */
export interface LoudnessTask extends PulsedTask {
  readonly path: string
  readonly placement: Placement
}

/** Placed sounds, and the cut whose voice they are held against. */
export interface MaskingTask extends PulsedTask {
  readonly cutPath: string
  /** Level of the cut's own sound in the mix, dB. */
  readonly cutLevelDb: number
  readonly speech: readonly TimeRange[]
  /** With the file of each. */
  readonly placed: readonly (OverVoice & { readonly path: string })[]
}

/** How a placed sound and the voice cover each other. */
export interface MaskingResult extends Masking {
  readonly id: string
}

/** A decoded sound that is to be stretched to another speed into another file, its pitch kept. */
export interface StretchTask {
  readonly source: DecodedFile
  readonly rate: number
  readonly into: string
}

/** Decoded audio in a file: 32-bit floats at the rate of mixes, one channel after the other within each frame. */
export interface DecodedFile {
  readonly path: string
  readonly lengthFrames: number
  readonly channelCount: number
}

/** What a mix is made from. */
export interface MixSourceFile extends DecodedFile {
  /** As the score's placements name it. */
  readonly key: string
  /** Speed that its samples were stretched to, or null. */
  readonly stretchRate: number | null
}

/** Decoded sounds, and how they are mixed. */
export interface MixingTask {
  readonly score: Score
  readonly sources: readonly MixSourceFile[]
  readonly speech: readonly TimeRange[]
}

/** A stretch of a mix that is written into its place of a file of both channels; others write the rest of it. */
export interface MixPartTask extends MixingTask {
  readonly fromFrame: number
  readonly frames: number
  readonly into: string
}

/** How a file that goes out is described. */
export interface MixFileTask {
  readonly path: string
  readonly title: string
  /** When it was asked for, as an ISO date and time. */
  readonly writtenAt: string
}

/** A mix that was made is brought to its loudness and written. */
export interface DeliverTask extends MixFileTask {
  readonly score: Score
  readonly mixed: DecodedFile
  readonly leastFrames: number
}

/** One layer alone, at the level that it has in the mix. */
export interface StemTask extends MixingTask, MixFileTask {
  readonly layerId: string
  readonly lengthFrames: number
  readonly gainDb: number
}

/** A file of a mix again as FLAC. */
export interface FlacTask {
  readonly wavPath: string
  readonly into: string
}

/** The picture of a cut with a mix as its sound track. */
export interface VideoTask {
  readonly cutPath: string
  readonly wavPath: string
  readonly into: string
}

/** A step of taking over a large catalogue. */
export type CatalogueStep =
  /** What lies in the stage is written under a generation; terms by the keys that sounds name. */
  | { readonly kind: 'write'; readonly termsIds: readonly (readonly [string, number])[]; readonly generation: number }
  /** What is not listed any more is withdrawn. */
  | { readonly kind: 'withdraw' }
  /** The stage is emptied. */
  | { readonly kind: 'clear' }

export interface CatalogueTask {
  readonly dataDir: string
  readonly sourceId: string
  readonly step: CatalogueStep
  /** Tells what was written so far, and is told to stop. */
  readonly port: MessagePort
}
