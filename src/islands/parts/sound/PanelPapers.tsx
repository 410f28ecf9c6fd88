import { Paperclip, PenLine, Undo2 } from 'lucide-react'
import { useState } from 'react'
import { useDropzone } from 'react-dropzone'
import { Link } from 'wouter'
import type { SoundDetail } from '../../../contract'
import { CLAUSE_WORDS } from '../../../core/rights'
import { messages } from '../../../messages'
import { useAttach, useRecord, useTakeBack } from '../../api/papers-queries'
import { useShell } from '../../api/queries'
import { dayWords } from '../../format/words'
import { CopyButton } from '../shared/CopyButton'
import { DeclareDialog } from '../terms/DeclareDialog'

type Paper = SoundDetail['papers'][number]

/** Papers of a sound, or that there are none and what to do about it. */
export function PanelPapers({ sound }: { sound: SoundDetail }) {
  const own = sound.source.kind !== 'library'
  if (sound.papers.length === 0 && !own) return null
  return (
    <section aria-label={messages.common.papers}>
      <h3 className="mb-2 border-b ruled pb-1 text-base font-semibold">{messages.common.papers}</h3>
      {sound.papers.length === 0 && (
        <p className="mb-2">{messages.sound.nothingSaysWhereThisFile(<strong>{messages.sound.noPapers}</strong>)}</p>
      )}
      {own && <Declare sound={sound} />}
      <div className="space-y-5">
        {sound.papers.map((paper) => (
          <PaperBlock key={paper.grantId} paper={paper} />
        ))}
      </div>
    </section>
  )
}

function Declare({ sound }: { sound: SoundDetail }) {
  const [open, setOpen] = useState(false)
  const none = sound.papers.length === 0
  return (
    <>
      <button type="button" className={`btn btn-sm mb-3 ${none ? 'btn-primary' : ''}`} onClick={() => setOpen(true)}>
        <PenLine size={15} aria-hidden="true" />{' '}
        {none ? messages.sound.sayWhereItIsFrom : messages.sound.correctWhatWasSaid}
      </button>
      {open && <DeclareDialog soundId={sound.id} title={sound.title} onClose={() => setOpen(false)} />}
    </>
  )
}

function PaperBlock({ paper }: { paper: Paper }) {
  const takeBack = useTakeBack()
  const [taken, setTaken] = useState(false)
  return (
    <div className="space-y-1">
      <p>
        <Link href={`/papers/terms/${paper.termsId}`} className="underline underline-offset-2">
          {messages.sound.version(paper.termsTitle, paper.termsVersion)}
        </Link>
        , {paper.kind === 'declared' ? messages.sound.declared : messages.sound.asServed}{' '}
        {messages.sound.on(dayWords(paper.acquiredAt))}
      </p>
      <p className="quiet text-sm">
        {paper.grantTitle}
        {paper.planUntil ? messages.sound.to(paper.planFrom, paper.planUntil) : ''}{' '}
        {messages.sound.forLicensee(paper.licensee)}
      </p>
      <p className="quiet text-sm">
        {messages.sound.textSha256(<code className="break-all">{paper.termsSha256.slice(0, 16)}…</code>)}
      </p>
      {paper.needsVideo && <ForVideo paper={paper} />}
      {paper.conditions.length > 0 && <Conditions paper={paper} />}
      {paper.creditLine && (
        <div className="mt-2 rounded border ruled bg-base-100 p-2">
          <p className="break-words text-sm">{paper.creditLine}</p>
          <CopyButton text={paper.creditLine} label={messages.sound.copyTheCredit} />
        </div>
      )}
      <Evidence paper={paper} />
      {paper.kind === 'declared' && (
        <button
          type="button"
          className="btn btn-ghost btn-xs -ml-2"
          disabled={takeBack.isPending || taken}
          onClick={() => {
            setTaken(true)
            takeBack.mutate({ grantId: paper.grantId, takenBack: true })
          }}
        >
          <Undo2 size={14} aria-hidden="true" /> {messages.sound.withdraw}
        </button>
      )}
    </div>
  )
}

/** Whether papers that hold for one video are for the one in hand. */
function ForVideo({ paper }: { paper: Paper }) {
  const shell = useShell()
  const record = useRecord()
  const videoId = shell.data?.videoInHandId ?? null
  if (paper.boundToVideo === null || videoId === null) return null
  if (paper.boundToVideo) return <p className="text-sm">{messages.sound.itIsOnRecordThat}</p>
  return (
    <div>
      <button
        type="button"
        className="btn btn-sm"
        disabled={record.isPending}
        onClick={() => record.mutate({ grantId: paper.grantId, videoId, key: 'projects', note: '' })}
      >
        {messages.sound.itIsForTheVideo}
      </button>
      {record.error && (
        <p role="alert" className="text-sm text-error">
          {record.error.message}
        </p>
      )}
    </div>
  )
}

/** Conditions of the terms: what was done for the video in hand is put on record here. */
function Conditions({ paper }: { paper: Paper }) {
  const shell = useShell()
  const record = useRecord()
  const videoId = shell.data?.videoInHandId ?? null
  if (videoId === null) return null
  return (
    <ul className="space-y-1 text-sm">
      {paper.conditions.map(({ key, met }) => (
        <li key={key} className="flex items-center justify-between gap-2">
          <span>
            {CLAUSE_WORDS[key]}: {met ? messages.sound.itsConditionIsMetOn : messages.sound.aCondition}
          </span>
          {!met && (
            <button
              type="button"
              className="btn btn-xs"
              disabled={record.isPending}
              onClick={() => record.mutate({ grantId: paper.grantId, videoId, key, note: '' })}
            >
              {messages.sound.itIsMet}
            </button>
          )}
        </li>
      ))}
    </ul>
  )
}

/** Files that prove it; more can be dropped here. */
function Evidence({ paper }: { paper: Paper }) {
  const attach = useAttach()
  const { getRootProps, getInputProps, isDragActive, open } = useDropzone({
    multiple: false,
    noClick: true,
    noKeyboard: true,
    onDrop: ([file]) => {
      if (file) attach.mutate({ grantId: paper.grantId, file })
    },
  })
  return (
    <div className="mt-2">
      {paper.evidence.length > 0 && (
        <ul className="mb-1 space-y-1 text-sm">
          {paper.evidence.map(({ id, fileName, mime }) => (
            <li key={id}>
              <a
                href={`/api/evidence/${id}`}
                target="_blank"
                rel="noreferrer"
                className="flex items-center gap-1.5 underline"
              >
                <Paperclip size={14} aria-hidden="true" className="shrink-0" />
                <span className="min-w-0 break-words">{fileName}</span>
              </a>
              {mime.startsWith('image/') && (
                <img
                  src={`/api/evidence/${id}`}
                  alt={messages.sound.evidence(fileName)}
                  className="mt-1 max-h-40 rounded border ruled"
                />
              )}
            </li>
          ))}
        </ul>
      )}
      <div
        {...getRootProps({
          className: `flex items-center justify-between gap-2 rounded border border-dashed px-2 py-1.5 text-sm ${isDragActive ? 'border-primary' : 'border-base-content/40'}`,
        })}
      >
        <input {...getInputProps({ 'aria-label': messages.sound.evidenceFile })} />
        {attach.isPending ? messages.sound.addingIt : messages.sound.dropAReceiptMailOr}
        <button type="button" className="btn btn-xs" onClick={open}>
          {messages.sound.choose}
        </button>
      </div>
      {attach.error && (
        <p role="alert" className="mt-1 text-sm text-error">
          {attach.error.message}
        </p>
      )}
    </div>
  )
}
