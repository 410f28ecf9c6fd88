import { Download, FileAudio } from 'lucide-react'
import { type DragEvent, useState } from 'react'
import type { ReasonWire, SoundDetail } from '../../contract'
import { CLAUSE_WORDS } from '../../core/rights'
import { useJobOf } from '../state/jobs'
import { useDownload, useSound } from '../state/queries'
import { dayWords, lengthWords } from '../state/words'
import { CopyButton } from './CopyButton'
import { Failed, Loading } from './States'
import { TermsDialog } from './TermsDialog'
import { FitMark, ShapeMark } from './VerdictMark'

/** The selected sound: facts, what its terms allow for the video in hand, papers, and the way to a copy. */
export function SoundPanel({ id }: { id: number }) {
  const query = useSound(id)
  if (query.isPending) return <Loading what="Reading its terms" />
  if (query.isError) return <Failed error={query.error} onRetry={() => void query.refetch()} />
  const sound = query.data
  return (
    <div className="space-y-5 p-5">
      <header>
        <h2 className="text-xl font-semibold">{sound.title}</h2>
        <p className="quiet">{[sound.maker, sound.source.name].filter(Boolean).join(' · ')}</p>
        {sound.withdrawn && (
          <p className="mt-1 text-error">Withdrawn by its library; copies and papers here stay valid.</p>
        )}
      </header>
      <Acquire sound={sound} />
      <Fit sound={sound} />
      <Papers sound={sound} />
      <Facts sound={sound} />
    </div>
  )
}

function Acquire({ sound }: { sound: SoundDetail }) {
  const download = useDownload()
  const job = useJobOf('download', String(sound.id))
  const running = job?.state === 'queued' || job?.state === 'running'
  if (sound.copy) {
    const { sha256, fileName, sizeBytes } = sound.copy
    const address = `/api/copies/${sha256}`
    const drag = (event: DragEvent): void => {
      // Dragged out of the browser, it lands as a file under its sensible name.
      event.dataTransfer.setData(
        'DownloadURL',
        `application/octet-stream:${fileName}:${new URL(address, location.href)}`,
      )
      event.dataTransfer.setData('text/uri-list', String(new URL(address, location.href)))
    }
    return (
      <div className="rounded border ruled bg-base-100 p-3">
        <p className="font-semibold">A copy is here</p>
        <a
          href={address}
          download={fileName}
          draggable
          onDragStart={drag}
          className="mt-1 flex items-start gap-2 underline decoration-from-font underline-offset-2"
        >
          <FileAudio size={18} aria-hidden="true" className="mt-0.5 shrink-0" />
          <span className="min-w-0 break-words">{fileName}</span>
        </a>
        <p className="quiet mt-1 text-sm">{(sizeBytes / 1024).toFixed(0)} KB. Save it, or drag it into your cut.</p>
      </div>
    )
  }
  return (
    <div>
      <button
        type="button"
        className="btn btn-primary w-full"
        disabled={running || download.isPending || sound.withdrawn}
        onClick={() => download.mutate(sound.id)}
      >
        <Download size={18} aria-hidden="true" />
        {running ? job.message : `Download · ${sound.cost}`}
      </button>
      {job?.state === 'failed' && (
        <p role="alert" className="mt-2 text-error">
          {job.message}
        </p>
      )}
      {download.isError && (
        <p role="alert" className="mt-2 text-error">
          {download.error.message}
        </p>
      )}
    </div>
  )
}

const EFFECT_SHAPES = { bars: 'barred', unstated: 'dotted', asks: 'half', allows: 'disc' } as const

function Fit({ sound }: { sound: SoundDetail }) {
  return (
    <section aria-label="Fit with the video in hand">
      <h3 className="mb-2 flex items-center justify-between gap-2 border-b ruled pb-1 text-base font-semibold">
        In this video{' '}
        <span className="font-sans text-sm font-normal">
          <FitMark fit={sound.fit} />
        </span>
      </h3>
      {sound.reasons.length === 0 ? (
        <p className="quiet">Choose or make a video in the top bar to see what its uses need.</p>
      ) : (
        <Reasons reasons={sound.reasons} />
      )}
      {sound.papers.length === 0 && (
        <p className="mt-2">
          <WholeText id={sound.terms.id} />
        </p>
      )}
    </section>
  )
}

/** Reasons of a decision, clause by clause, each with the words it rests on. */
export function Reasons({ reasons }: { reasons: readonly ReasonWire[] }) {
  return (
    <ul className="space-y-2.5">
      {reasons.map((reason) => (
        <li key={reason.key} className="grid grid-cols-[1rem_1fr] gap-2">
          <span className="pt-1">
            <ShapeMark shape={EFFECT_SHAPES[reason.effect]} sizePx={12} />
          </span>
          <div className="min-w-0">
            <p className="leading-snug">
              <span className="small-label">{CLAUSE_WORDS[reason.key]}. </span>
              {reason.sentence}
            </p>
            {reason.quote && <Quote text={reason.quote} />}
          </div>
        </li>
      ))}
    </ul>
  )
}

/** Words of the terms. */
export function Quote({ text }: { text: string }) {
  return (
    <blockquote
      className="mt-0.5 border-l-2 border-base-content/30 pl-2 text-sm leading-snug"
      style={{ color: 'var(--quiet)' }}
    >
      “{text}”
    </blockquote>
  )
}

function Papers({ sound }: { sound: SoundDetail }) {
  if (sound.papers.length === 0) return null
  return (
    <section aria-label="Papers">
      <h3 className="mb-2 border-b ruled pb-1 text-base font-semibold">Papers</h3>
      {sound.papers.map((paper) => (
        <div key={paper.grantId} className="space-y-1">
          <p>
            {paper.termsTitle}, version {paper.termsVersion}, as served on {dayWords(paper.acquiredAt)}
          </p>
          <p className="quiet text-sm">
            {paper.grantTitle}
            {paper.planUntil ? `, ${paper.planFrom} to ${paper.planUntil}` : ''} · for {paper.licensee}
          </p>
          <WholeText id={paper.termsId} />
          <p className="quiet text-sm">
            Text SHA-256 <code className="break-all">{paper.termsSha256.slice(0, 16)}…</code>
          </p>
          {paper.creditLine && (
            <div className="mt-2 rounded border ruled bg-base-100 p-2">
              <p className="break-words text-sm">{paper.creditLine}</p>
              <CopyButton text={paper.creditLine} label="Copy the credit" />
            </div>
          )}
        </div>
      ))}
    </section>
  )
}

/** Opens the text that a decision rests on. */
function WholeText({ id }: { id: number }) {
  const [open, setOpen] = useState(false)
  return (
    <>
      <button type="button" className="btn btn-ghost btn-xs -ml-2" onClick={() => setOpen(true)}>
        Read the whole text
      </button>
      {open && <TermsDialog id={id} onClose={() => setOpen(false)} />}
    </>
  )
}

function Facts({ sound }: { sound: SoundDetail }) {
  const facts: readonly (readonly [string, string])[] = [
    ['Length', lengthWords(sound.durationS)],
    ['Loudness', sound.loudnessLufs === null ? 'not measured' : `${sound.loudnessLufs.toFixed(1)} LUFS`],
    ['Hit', sound.hitS === null ? 'none found' : `${sound.hitS.toFixed(2)} s`],
    ['Format', sound.formats.join(', ').toUpperCase()],
    ['Category', sound.category],
    ['Tags', sound.tags.join(', ')],
    ['Terms', `${sound.terms.title}, ${sound.terms.version}`],
  ]
  return (
    <section aria-label="Facts">
      <h3 className="mb-2 border-b ruled pb-1 text-base font-semibold">Facts</h3>
      <dl className="grid grid-cols-[5.500rem_1fr] gap-x-2 gap-y-1 text-sm">
        {facts.map(([name, value]) => (
          <div key={name} className="contents">
            <dt className="quiet">{name}</dt>
            <dd className="min-w-0 break-words">{value}</dd>
          </div>
        ))}
      </dl>
    </section>
  )
}
