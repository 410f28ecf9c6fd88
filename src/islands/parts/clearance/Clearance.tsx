import { useCallback, useState } from 'react'
import type { CheckDetail, CheckedTrackWire } from '../../../contract'
import type { TimeRange } from '../../../core/time-range'
import { messages } from '../../../messages'
import { Credits } from './Credits'
import { FindingRow } from './FindingRow'
import { MarkedSpan } from './MarkedSpan'
import { PlannedSounds } from './PlannedSounds'
import { Points } from './Points'
import { Summary } from './Summary'
import { TrackBreakdown } from './TrackBreakdown'
import { TrackTimeMap } from './TrackTimeMap'
import { useVideoPlayback } from './use-video-playback'

/** The result of a check: the video, what it comes to, the time map, what is not examined, the findings, the credits. */
export function Clearance({ check }: { check: CheckDetail }) {
  const { mediaRef, clock, isPlaying, setIsPlaying, playAt, playPart, stopSounds } = useVideoPlayback()
  const [selectedId, setSelectedId] = useState<number | null>(null)
  const [span, setSpan] = useState<TimeRange | null>(null)
  const [trackIndex, setTrackIndex] = useState(0)
  const track = check.tracks.find(({ index }) => index === trackIndex) ?? check.tracks[0] ?? null
  const pick = useCallback(
    (detectionId: number, startS: number) => {
      setSelectedId(detectionId)
      playAt(startS)
    },
    [playAt],
  )
  return (
    <div className="space-y-6">
      <div className="grid grid-cols-[minmax(20rem,26rem)_minmax(0,1fr)] gap-8 max-md:grid-cols-1">
        {/* biome-ignore lint/a11y/useMediaCaption: the creator's own export is played as it is */}
        <video
          ref={mediaRef}
          src={`/api/exports/${check.exportId}`}
          controls
          preload="metadata"
          aria-label={check.fileName}
          className={`w-full rounded bg-black ${check.hasPicture ? 'aspect-video' : 'h-24'}`}
          onPlay={() => {
            stopSounds()
            setIsPlaying(true)
          }}
          onPause={() => setIsPlaying(false)}
        />
        <Summary check={check} track={track} onPick={pick} onSeek={playAt} />
      </div>
      {check.tracks.length > 1 && track && (
        <TrackChoice tracks={check.tracks} chosen={track.index} onChoose={setTrackIndex} />
      )}
      {track?.map && (
        <div className="space-y-2">
          <MarkedSpan
            videoId={check.videoId}
            durationS={track.map.durationS}
            clock={clock}
            span={span}
            onMark={setSpan}
            onPlay={playPart}
          />
          <TrackTimeMap
            track={track.map}
            trackIndex={track.index}
            missing={track.missing}
            findings={check.findings}
            breakdown={track.breakdown}
            selectedId={selectedId}
            clock={clock}
            isPlaying={isPlaying}
            span={span}
            onPick={pick}
            onSeek={playAt}
            onMark={setSpan}
          />
        </div>
      )}
      <div className="grid grid-cols-[minmax(0,1fr)_minmax(18rem,24rem)] gap-10 max-lg:grid-cols-1">
        <div className="space-y-6">
          <Points check={check} onSeek={playAt} />
          <section aria-label={messages.clearance.findings}>
            <h2 className="mb-1 text-2xl font-semibold">{messages.clearance.findings}</h2>
            {check.findings.length === 0 && (
              <p className="quiet py-4">{messages.clearance.noneOfTheSoundsOf(check.listenedFor)}</p>
            )}
            <ul>
              {check.findings.map((finding) => (
                <FindingRow key={finding.soundId} finding={finding} selectedId={selectedId} onPick={pick} />
              ))}
            </ul>
          </section>
          <PlannedSounds check={check} onSeek={playAt} />
        </div>
        <Credits text={check.credits} />
      </div>
      {track && <TrackBreakdown file={check} track={track} onSeek={playAt} />}
    </div>
  )
}

interface TrackChoiceProps {
  readonly tracks: readonly CheckedTrackWire[]
  readonly chosen: number
  readonly onChoose: (index: number) => void
}

/** Which audio track the map below shows. Findings and points are of all of them. */
function TrackChoice({ tracks, chosen, onChoose }: TrackChoiceProps) {
  return (
    <fieldset className="flex flex-wrap items-center gap-x-5 gap-y-1">
      <legend className="small-label">{messages.clearance.audioTracksOfTheFile}</legend>
      {tracks.map(({ index, name, notListenedReason }) => (
        <label key={index} className="flex items-center gap-2">
          <input
            type="radio"
            name="track"
            className="radio radio-sm"
            checked={index === chosen}
            onChange={() => onChoose(index)}
          />
          {name}
          {notListenedReason !== null && <span className="text-error text-sm">{messages.clearance.notListenedTo}</span>}
        </label>
      ))}
    </fieldset>
  )
}
