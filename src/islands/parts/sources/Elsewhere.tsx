import { useState } from 'react'
import { useDropzone } from 'react-dropzone'
import { Link } from 'wouter'
import type { SourceWire } from '../../../contract'
import { messages } from '../../../messages'
import { useTakeIn } from '../../api/papers-queries'
import { DeclareDialog } from '../terms/DeclareDialog'

/** Brings a file that came by some other way, and asks at once where it is from. */
export function Elsewhere({ source }: { source: SourceWire }) {
  const takeIn = useTakeIn()
  const [span, setSpan] = useState({ from: '', to: '' })
  const [asking, setAsking] = useState<{ id: number; title: string } | null>(null)
  const marked = span.from !== '' && span.to !== '' ? ([Number(span.from), Number(span.to)] as const) : null
  const { getRootProps, getInputProps, isDragActive, open } = useDropzone({
    multiple: false,
    noClick: true,
    noKeyboard: true,
    onDrop: ([file]) => {
      if (!file) return
      takeIn.mutate(
        { file, span: marked },
        { onSuccess: ({ soundId }) => setAsking({ id: soundId, title: file.name }) },
      )
    },
  })
  const field = (key: 'from' | 'to', label: string) => (
    <label className="flex items-center gap-2">
      {label}
      <input
        type="number"
        min="0"
        step="0.1"
        className="input input-sm w-24"
        value={span[key]}
        onChange={(event) => setSpan({ ...span, [key]: event.target.value })}
      />
    </label>
  )
  return (
    <div className="border-t ruled py-4">
      <p className="quiet">
        {messages.sources.withoutPapers(source.about, messages.counts.sounds(source.soundCount), source.noPapersCount)}{' '}
        {source.noPapersCount > 0 && (
          <Link href="/papers" className="underline">
            {messages.sources.seeThem}
          </Link>
        )}
      </p>
      <div
        {...getRootProps({
          className: `my-3 flex flex-wrap items-center justify-between gap-3 rounded border border-dashed p-5 ${isDragActive ? 'border-primary bg-base-200' : 'border-base-content/40'}`,
        })}
      >
        <input {...getInputProps({ 'aria-label': messages.sources.fileFromElsewhere })} />
        {takeIn.isPending ? messages.sources.addingItAndListeningTo : messages.sources.dropASoundOrA}
        <button type="button" className="btn btn-sm" disabled={takeIn.isPending} onClick={open}>
          {messages.sources.chooseAFile}
        </button>
      </div>
      <div className="flex flex-wrap items-center gap-x-4 gap-y-2 text-sm">
        <span className="quiet">{messages.sources.onlyAPartOfIt}</span>
        {field('from', 'from')}
        {field('to', 'to')}
      </div>
      {takeIn.error && (
        <p role="alert" className="mt-2 text-error">
          {takeIn.error.message}
        </p>
      )}
      {takeIn.data?.already && !asking && <p className="mt-2">{messages.sources.thisFileIsHereAlready}</p>}
      {asking && <DeclareDialog soundId={asking.id} title={asking.title} onClose={() => setAsking(null)} />}
    </div>
  )
}
