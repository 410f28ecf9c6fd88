import { useCallback, useEffect, useRef, useState } from 'react'
import type { CheckDetail, FindingWire, VerdictWire } from '../../contract'
import type { Part } from '../state/listening-options'
import { usePlayer } from '../state/player'
import { clock, counted } from '../state/words'
import { Credits } from './Credits'
import { FindingRow } from './FindingRow'
import { MarkedSpan } from './MarkedSpan'
import { notExaminedWords, summarySentence } from './summary-sentence'
import { TimeMap } from './TimeMap'
import { TrackBreakdown } from './TrackBreakdown'
import { VerdictMark } from './VerdictMark'

/** Seconds of run-up before a heard sound when it is played in the video. */
const RUN_UP_S = 0.4

/** The result of a check: the video, what it comes to, the time map, the findings, the credits. */
export function Clearance({ check }: { check: CheckDetail }) {
  const mediaRef = useRef<HTMLVideoElement>(null)
  const player = usePlayer()
  // Two sounds at once would fool the ear: listening to a sound stops the video, and the other way round.
  useEffect(() => {
    if (player.playing) mediaRef.current?.pause()
  }, [player.playing])
  const [timeS, setTimeS] = useState(0)
  const [selectedId, setSelectedId] = useState<number | null>(null)
  const [span, setSpan] = useState<Part | null>(null)
  // What is played up to its end: a marked part, until something else is played.
  const upToRef = useRef<Part | null>(null)
  const playAt = useCallback((startS: number) => {
    const media = mediaRef.current
    if (!media) return
    upToRef.current = null
    media.currentTime = Math.max(0, startS - RUN_UP_S)
    setTimeS(media.currentTime)
    media.play().catch(() => setTimeS(startS))
  }, [])
  const playSpan = (part: Part): void => {
    const media = mediaRef.current
    if (!media) return
    upToRef.current = part
    media.currentTime = part.fromS
    media.play().catch(() => setTimeS(part.fromS))
    requestAnimationFrame(function watch() {
      if (upToRef.current !== part || media.paused) return
      if (media.currentTime < part.toS) requestAnimationFrame(watch)
      else media.pause()
    })
  }
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
          onPlay={player.stop}
          onTimeUpdate={(event) => setTimeS(event.currentTarget.currentTime)}
        />
        <Summary check={check} onPick={pick} />
      </div>
      {check.track && (
        <div className="space-y-2">
          <MarkedSpan
            videoId={check.videoId}
            durationS={check.track.durationS}
            timeS={timeS}
            span={span}
            onMark={setSpan}
            onPlay={playSpan}
          />
          <TimeMap
            track={check.track}
            findings={check.findings}
            breakdown={check.breakdown}
            selectedId={selectedId}
            timeS={timeS}
            span={span}
            onPick={pick}
            onSeek={playAt}
            onMark={setSpan}
          />
        </div>
      )}
      <div className="grid grid-cols-[minmax(0,1fr)_minmax(18rem,24rem)] gap-10 max-lg:grid-cols-1">
        <section aria-label="Findings">
          <h2 className="mb-1 text-2xl font-semibold">Findings</h2>
          {check.findings.length === 0 && (
            <p className="quiet py-4">
              None of the {check.listenedFor} sounds of your libraries is heard in this file. That says nothing about
              sounds from elsewhere.
            </p>
          )}
          <ul>
            {check.findings.map((finding) => (
              <FindingRow key={finding.soundId} finding={finding} selectedId={selectedId} onPick={pick} />
            ))}
          </ul>
        </section>
        <Credits text={check.credits} />
      </div>
      <TrackBreakdown check={check} onSeek={playAt} />
    </div>
  )
}

const VERDICTS: readonly VerdictWire[] = ['not-allowed', 'no-papers', 'owes-credit', 'clear']

function Summary({ check, onPick }: { check: CheckDetail; onPick: (detectionId: number, startS: number) => void }) {
  const { findings, track, notExamined } = check
  const count = (verdict: VerdictWire): number => findings.filter((finding) => finding.verdict === verdict).length
  return (
    <section aria-label="Summary" className="flex flex-col justify-between gap-4">
      <div>
        <p className="font-display text-3xl font-semibold leading-tight" data-testid="summary">
          {summarySentence(findings, check.listenedFor)}
        </p>
        <ul className="mt-4 flex flex-wrap gap-x-6 gap-y-2" aria-label="Verdicts">
          {VERDICTS.filter((verdict) => count(verdict) > 0).map((verdict) => (
            <li key={verdict} className="flex items-center gap-2" data-verdict={verdict}>
              <span className="font-display text-2xl font-semibold">{count(verdict)}</span>
              <VerdictMark verdict={verdict} />
            </li>
          ))}
        </ul>
        <OpenList findings={findings} onPick={onPick} />
      </div>
      <dl className="flex flex-wrap gap-x-8 gap-y-2 text-sm">
        <Fact name="File">{check.fileName}</Fact>
        {track && <Fact name="Length">{clock(track.durationS)}</Fact>}
        {track && (
          <Fact name="Loudness">
            {track.integratedLufs === null ? 'silent' : `${track.integratedLufs.toFixed(1)} LUFS`}
          </Fact>
        )}
        {track && (
          <Fact name="True peak">{track.truePeakDbtp === null ? '–' : `${track.truePeakDbtp.toFixed(1)} dBTP`}</Fact>
        )}
        {track?.loudnessRangeLu !== null && track?.loudnessRangeLu !== undefined && (
          <Fact name="Loudness range">{track.loudnessRangeLu.toFixed(1)} LU</Fact>
        )}
        <Fact name="Listened for">{counted(check.listenedFor, 'sound')}</Fact>
        <Fact name="Not examined">{notExaminedWords(notExamined.length, check.addedSince)}</Fact>
      </dl>
    </section>
  )
}

/** Open points listed beside the video; more are found below. */
const OPEN_SHOWN = 3

function OpenList({
  findings,
  onPick,
}: {
  findings: readonly FindingWire[]
  onPick: (detectionId: number, startS: number) => void
}) {
  const open = findings.filter(({ verdict }) => verdict === 'no-papers' || verdict === 'not-allowed')
  if (open.length === 0) return null
  return (
    <ul aria-label="Open points" className="mt-4 max-w-2xl">
      {open.slice(0, OPEN_SHOWN).map((finding) => {
        const first = finding.detections[0]
        return (
          <li key={finding.soundId} className="grid grid-cols-[auto_1fr] gap-x-3 border-t ruled py-1.5">
            <button
              type="button"
              className="self-start underline decoration-from-font underline-offset-2"
              aria-label={`Play ${finding.title} in the video`}
              onClick={() => first && onPick(first.id, first.startS)}
            >
              {clock(first?.startS ?? 0)}
            </button>
            <span className="min-w-0">
              <span className="font-semibold">{finding.title}.</span> {finding.sentence}
            </span>
          </li>
        )
      })}
      {open.length > OPEN_SHOWN && (
        <li className="quiet border-t ruled py-1.5">{open.length - OPEN_SHOWN} more below</li>
      )}
    </ul>
  )
}

function Fact({ name, children }: { name: string; children: React.ReactNode }) {
  return (
    <div className="min-w-0">
      <dt className="small-label">{name}</dt>
      <dd className="break-words">{children}</dd>
    </div>
  )
}
