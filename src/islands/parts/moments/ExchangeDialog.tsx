import { useMemo, useState } from 'react'
import { FRAME_RATES, type FrameRate, mayDropFrames, rateName } from '../../../core/formats/timecode'
import {
  type FormatContext,
  type ImportPlan,
  importPlan,
  MOMENT_FORMATS,
  type MomentFormat,
  type MomentsDocument,
  type MomentsEdit,
  markersIn,
  momentsAs,
} from '../../../core/moments'
import { messages } from '../../../messages'
import { newId } from '../../moments/new-id'
import { DialogActions, DialogTitle, ModalDialog } from '../shared/ModalDialog'

const FORMAT_WORDS: Readonly<Record<MomentFormat, string>> = {
  csv: 'CSV table',
  vtt: 'WebVTT',
  edl: 'EDL (CMX 3600)',
  otio: 'OpenTimelineIO',
  txt: messages.moments.plainText,
}
/** A larger file is no list of moments, bytes. */
const FILE_MAX_BYTES = 16 * 1024 * 1024
const SHOWN_MAX = 200

interface ExchangeDialogProps {
  readonly videoId: number
  readonly document: MomentsDocument
  readonly context: FormatContext
  readonly onImport: (edit: MomentsEdit, words: string) => string | null
  readonly onClose: () => void
}

/** Moments out into open formats, and in from them: what will be added, changed and skipped is shown before. */
export function ExchangeDialog({ videoId, document, context, onImport, onClose }: ExchangeDialogProps) {
  const [text, setText] = useState('')
  const [rate, setRate] = useState<FrameRate>(context.rate)
  const [problem, setProblem] = useState<string | null>(null)
  const found = useMemo(() => {
    if (text.trim() === '') return null
    const read = markersIn(text, { rate, drop: context.drop && mayDropFrames(rate) })
    if (!read) return { plan: null, format: null }
    const plan = importPlan(document, read, { durationS: context.durationS, rate, newId: newId })
    return { plan, format: read.format }
  }, [text, rate, document, context])
  return (
    <ModalDialog className="max-w-4xl" onClose={onClose}>
      <DialogTitle className="mb-3">{messages.moments.importAndExportMoments}</DialogTitle>
      <section aria-label={messages.moments.out} className="mb-5">
        <h3 className="mb-1 font-semibold">
          {messages.moments.saveAs(messages.counts.moments(document.moments.length))}
        </h3>
        <div className="flex flex-wrap gap-2">
          {MOMENT_FORMATS.map((format) => (
            <button
              key={format}
              type="button"
              className="btn btn-sm"
              disabled={document.moments.length === 0}
              onClick={() =>
                saveFile(
                  messages.moments.fileOfMoments(context.title, format),
                  momentsAs(format, document.moments, context),
                )
              }
            >
              {FORMAT_WORDS[format]}
            </button>
          ))}
          <a className="btn btn-sm" href={`/api/videos/${videoId}/moments-list?as=html`} download>
            {messages.moments.listToPrintHtml}
          </a>
          <a className="btn btn-sm" href={`/api/videos/${videoId}/moments-list?as=pdf`} download>
            {messages.moments.listToPrintPdf}
          </a>
        </div>
      </section>
      <section aria-label={messages.moments.in}>
        <h3 className="mb-1 font-semibold">{messages.moments.import}</h3>
        <div className="flex flex-wrap items-center gap-3">
          <input
            type="file"
            className="file-input file-input-sm"
            aria-label={messages.moments.fileWithMoments}
            accept=".csv,.vtt,.srt,.edl,.otio,.txt"
            onChange={async ({ target }) => {
              const [file] = target.files ?? []
              if (!file) return
              setProblem(null)
              if (file.size > FILE_MAX_BYTES) setProblem(messages.moments.theFileIsLargerThan)
              else setText(await file.text())
            }}
          />
          <label className="flex items-center gap-1.5 text-sm">
            <span className="quiet">{messages.moments.timecodeAt}</span>
            <select
              className="select select-xs w-32"
              value={`${rate.num}/${rate.den}`}
              onChange={({ target }) => {
                const [num = 25, den = 1] = target.value.split('/').map(Number)
                setRate({ num, den })
              }}
            >
              {ratesWith(context.rate).map((one) => (
                <option key={`${one.num}/${one.den}`} value={`${one.num}/${one.den}`}>
                  {messages.moments.framesS(rateName(one))}
                </option>
              ))}
            </select>
          </label>
        </div>
        <textarea
          className="textarea mt-2 h-24 w-full font-mono text-sm"
          aria-label={messages.moments.orPasteItHere}
          placeholder={messages.moments.orPasteItHereLines}
          value={text}
          onChange={({ target }) => {
            setProblem(null)
            setText(target.value)
          }}
        />
        {found && !found.plan && (
          <p role="alert" className="mt-2 text-error">
            {messages.moments.noTimesAreFoundIn}
          </p>
        )}
        {found?.plan && <PlanView plan={found.plan} format={FORMAT_WORDS[found.format]} />}
        {problem && (
          <p role="alert" className="mt-2 text-error">
            {problem}
          </p>
        )}
      </section>
      <DialogActions leaveBy="close" onLeave={onClose}>
        <button
          type="button"
          className="btn btn-primary"
          disabled={!found?.plan || found.plan.added.length + found.plan.changed.length === 0}
          onClick={() => {
            if (!found?.plan) return
            const { added, changed, edit } = found.plan
            const failed = onImport(
              edit,
              messages.moments.importMoments(messages.counts.moments(added.length + changed.length)),
            )
            if (failed) setProblem(failed)
            else onClose()
          }}
        >
          {messages.moments.import}
        </button>
      </DialogActions>
    </ModalDialog>
  )
}

/** The usual rates, with the one of the cut where it is another. */
function ratesWith(rate: FrameRate): FrameRate[] {
  const isUsual = FRAME_RATES.some(({ num, den }) => num === rate.num && den === rate.den)
  return isUsual ? [...FRAME_RATES] : [rate, ...FRAME_RATES]
}

function PlanView({ plan, format }: { plan: ImportPlan; format: string }) {
  const { added, changed, unchanged, skipped } = plan
  return (
    <div className="mt-2" data-testid="import-plan">
      <p role="status">
        {messages.moments.readAsToAddTo(
          format,
          added.length,
          changed.length,
          unchanged,
          messages.counts.lines(skipped.length),
        )}
      </p>
      <ul aria-label={messages.moments.whatWillBeDone} className="mt-1 max-h-44 overflow-y-auto text-sm">
        {skipped.slice(0, SHOWN_MAX).map(({ line, words }, index) => (
          // biome-ignore lint/suspicious/noArrayIndexKey: lines may say the same, and the list does not change
          <li key={index} className="border-t ruled py-0.5 text-error">
            {line > 0 && messages.moments.line(line)}
            {words}
          </li>
        ))}
        {changed.slice(0, SHOWN_MAX).map(({ id, before, to }) => (
          <li key={id} className="border-t ruled py-0.5">
            {messages.moments.atS(
              <span className="quiet">{messages.moments.change}</span>,
              before.words || messages.moments.aMoment,
              before.atS.toFixed(2),
              Object.entries(to)
                .map(([key, value]) => `${key === 'endS' ? messages.moments.end : key} “${String(value ?? 'none')}”`)
                .join(', '),
            )}
          </li>
        ))}
        {added.slice(0, SHOWN_MAX).map((moment) => (
          <li key={moment.id} className="border-t ruled py-0.5">
            <span className="quiet">{messages.moments.add}</span> {moment.atS.toFixed(2)} s{' '}
            {moment.words || messages.moments.withoutWords}
          </li>
        ))}
        {Math.max(added.length, skipped.length) > SHOWN_MAX && (
          <li className="quiet border-t ruled py-0.5">{messages.moments.andMore}</li>
        )}
      </ul>
    </div>
  )
}

function saveFile(name: string, text: string): void {
  const link = document.createElement('a')
  link.href = URL.createObjectURL(new Blob([text], { type: 'text/plain;charset=utf-8' }))
  link.download = name
  link.click()
  setTimeout(() => URL.revokeObjectURL(link.href), 10_000)
}
