import { useState } from 'react'
import { Link } from 'wouter'
import type { AnswerInput, CheckDetail, PointWire } from '../../../contract'
import { messages } from '../../../messages'
import { useAnswers } from '../../api/clearance-queries'
import { useChangeShell, useCheckAgain, useShell } from '../../api/queries'
import { clock } from '../../format/words'
import { ShapeMark } from '../shared/VerdictMark'
import { AnswerDialog } from './AnswerDialog'
import { answerSentence, answerWords, keyOfPoint, POINT_WORDS } from './point-words'

/** Places of a point that are shown as buttons; more are only counted. */
const PLACES_SHOWN = 8

interface PointsProps {
  readonly check: CheckDetail
  readonly onSeek: (timeS: number) => void
}

/** What was not examined or not explained, each with what would settle it; then what was settled by the creator's word. */
export function Points({ check, onSeek }: PointsProps) {
  const open = check.points.filter(({ isOpen }) => isOpen)
  const settled = check.points.filter(({ isOpen }) => !isOpen)
  if (check.points.length === 0 && check.conflicts.length === 0) return null
  return (
    <section aria-label={messages.clearance.notExaminedOrNotExplained}>
      {check.conflicts.length > 0 && (
        <ul aria-label={messages.clearance.licencesThatDoNotGo} className="mb-4">
          {check.conflicts.map(({ sentence }) => (
            <li key={sentence} className="border-t ruled py-3">
              <h3 className="font-semibold">{messages.clearance.licencesThatDoNotGo}</h3>
              <p className="max-w-3xl">{sentence}</p>
            </li>
          ))}
        </ul>
      )}
      {open.length > 0 && (
        <>
          <h2 className="mb-1 text-2xl font-semibold">{messages.clearance.notExaminedOrNotExplained}</h2>
          <ul>
            {open.map((point) => (
              <PointRow key={keyOfPoint(point)} check={check} point={point} onSeek={onSeek} />
            ))}
          </ul>
        </>
      )}
      {settled.length > 0 && (
        <details className="mt-3" open={open.length === 0 && settled.length <= 3}>
          <summary className="cursor-pointer font-semibold">
            {messages.clearance.settledByYourWord(settled.length)}
          </summary>
          <ul>
            {settled.map((point) => (
              <PointRow key={keyOfPoint(point)} check={check} point={point} onSeek={onSeek} />
            ))}
          </ul>
        </details>
      )}
    </section>
  )
}

function PointRow({ check, point, onSeek }: PointsProps & { readonly point: PointWire }) {
  const [asking, setAsking] = useState<AnswerInput['kind'] | null>(null)
  const said = answerSentence(point)
  return (
    <li className="border-t ruled py-3" data-point={point.kind} data-open={point.isOpen}>
      <h3 className="flex items-center gap-2 font-semibold">
        <ShapeMark shape={point.isOpen ? 'dotted' : 'half'} sizePx={13} />
        {POINT_WORDS[point.kind]}
      </h3>
      <p className="mt-0.5 max-w-3xl">{point.sentence}</p>
      <Places point={point} onSeek={onSeek} />
      {said && <p className="quiet mt-1 text-sm">{said}</p>}
      <div className="mt-2 flex flex-wrap gap-2">
        {point.isOpen &&
          point.answerKinds.map((kind) => (
            <button key={kind} type="button" className="btn btn-sm" onClick={() => setAsking(kind)}>
              {answerWords(point, kind)}
            </button>
          ))}
        {point.isOpen && point.kind === 'speech' && <OwnSpeechButton />}
        {point.isOpen && point.kind === 'placed' && <PlacedLinks videoId={check.videoId} point={point} />}
        {point.isOpen &&
          point.answerKinds.length === 0 &&
          (point.kind === 'unread-source' ? (
            <Link className="btn btn-sm" href="/sources">
              {messages.clearance.goToSources}
            </Link>
          ) : (
            <AgainButton videoId={check.videoId} />
          ))}
        {point.answer && <UndoButton videoId={check.videoId} answerId={point.answer.id} />}
        {!point.isOpen && point.kind === 'speech' && !point.answer && <TakeBackSpeech />}
      </div>
      {asking && <AnswerDialog videoId={check.videoId} point={point} kind={asking} onClose={() => setAsking(null)} />}
    </li>
  )
}

function Places({ point, onSeek }: { readonly point: PointWire; readonly onSeek: (timeS: number) => void }) {
  if (point.places.length === 0) return null
  return (
    <ul className="mt-1 flex flex-wrap gap-2" aria-label={messages.clearance.where}>
      {point.places.slice(0, PLACES_SHOWN).map(({ startS, endS }) => (
        <li key={startS}>
          <button
            type="button"
            className="rounded border ruled px-2 py-0.5 text-sm hover:bg-base-200"
            aria-label={messages.clearance.playFrom(clock(startS))}
            onClick={() => onSeek(startS)}
          >
            {clock(startS)} – {clock(endS)}
          </button>
        </li>
      ))}
      {point.places.length > PLACES_SHOWN && (
        <li className="quiet text-sm">{messages.clearance.andMore(point.places.length - PLACES_SHOWN)}</li>
      )}
    </ul>
  )
}

/** Where a placed sound can be acquired, and where it can be taken out. */
function PlacedLinks({ videoId, point }: { readonly videoId: number; readonly point: PointWire }) {
  return (
    <>
      {point.soundTitles.map(({ soundId, title }) => (
        <Link key={soundId} className="btn btn-sm" href={`/find?q=${encodeURIComponent(title)}`}>
          {messages.clearance.findTheSound}
        </Link>
      ))}
      <Link className="btn btn-sm" href={`/videos/${videoId}/in-place`}>
        {messages.clearance.goToInPlace}
      </Link>
    </>
  )
}

/** Once for the channel: the voices in all its videos are its own. */
function OwnSpeechButton() {
  const shell = useShell()
  const change = useChangeShell()
  return (
    <button
      type="button"
      className="btn btn-sm btn-primary"
      disabled={change.isPending || !shell.data}
      onClick={() => change.mutate({ ownSpeech: { by: shell.data?.licensee || messages.clearance.theCreator } })}
    >
      {messages.clearance.theVoicesInAllMy}
    </button>
  )
}

function TakeBackSpeech() {
  const shell = useShell()
  const change = useChangeShell()
  const own = shell.data?.ownSpeech
  if (!own) return null
  return (
    <>
      <p className="quiet self-center text-sm">{messages.clearance.putOnRecordThatThe(own.by)}</p>
      <button type="button" className="btn btn-ghost btn-sm" onClick={() => change.mutate({ ownSpeech: null })}>
        {messages.common.undo}
      </button>
    </>
  )
}

function AgainButton({ videoId }: { readonly videoId: number }) {
  const again = useCheckAgain(videoId)
  return (
    <button type="button" className="btn btn-sm" disabled={again.isPending} onClick={() => again.mutate()}>
      {messages.clearance.checkAgain}
    </button>
  )
}

function UndoButton({ videoId, answerId }: { readonly videoId: number; readonly answerId: number }) {
  const { undo } = useAnswers(videoId)
  return (
    <button
      type="button"
      className="btn btn-ghost btn-sm"
      disabled={undo.isPending}
      onClick={() => undo.mutate({ answerId, undone: true })}
    >
      {messages.common.undo}
    </button>
  )
}
