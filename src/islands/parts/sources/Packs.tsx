import { PackageOpen } from 'lucide-react'
import { useDropzone } from 'react-dropzone'
import type { SourceWire } from '../../../contract'
import { messages } from '../../../messages'
import { useBringPack } from '../../api/papers-queries'

const ZIP = { 'application/zip': ['.zip'] }

/** Takes packs of sounds: ZIP files that are dropped or chosen. Each becomes a source of its own. */
export function PackDrop() {
  const bring = useBringPack(null)
  const drop = useDropzone({
    accept: ZIP,
    multiple: false,
    noClick: true,
    noKeyboard: true,
    disabled: bring.isPending,
    onDrop: ([file]) => file && bring.mutate(file),
  })
  return (
    <div
      {...drop.getRootProps()}
      className={`mt-2 mb-8 rounded border border-dashed p-4 ${drop.isDragActive ? 'border-primary bg-base-200' : 'border-base-content/40'}`}
    >
      <input {...drop.getInputProps()} aria-label={messages.sources.packOfSounds} />
      <p className="flex flex-wrap items-center gap-3">
        <button type="button" className="btn btn-sm" disabled={bring.isPending} onClick={drop.open}>
          <PackageOpen size={16} aria-hidden="true" /> {messages.sources.addAPack}
        </button>
        <span className="quiet">{messages.sources.orDropItHereA}</span>
      </p>
      {bring.isPending && (
        <p role="status" className="mt-2 text-sm">
          {messages.sources.uploadingThePack(Math.round(100 * bring.sent))}
        </p>
      )}
      {(bring.error || drop.fileRejections.length > 0) && (
        <p role="alert" className="mt-2 text-error">
          {bring.error?.message ?? messages.sources.addOneZipFile}
        </p>
      )}
    </div>
  )
}

/** Brings a newer version of a pack: what is in both stays what it is. */
export function NewerPack({ source, disabled }: { source: SourceWire; disabled: boolean }) {
  const bring = useBringPack(source.id)
  const drop = useDropzone({
    accept: ZIP,
    multiple: false,
    noDrag: true,
    noKeyboard: true,
    noClick: true,
    onDrop: ([file]) => file && bring.mutate(file),
  })
  return (
    <span>
      <input {...drop.getInputProps()} aria-label={messages.sources.newerVersionOf(source.name)} />
      <button type="button" className="btn btn-sm" disabled={disabled || bring.isPending} onClick={drop.open}>
        <PackageOpen size={16} aria-hidden="true" /> {messages.sources.newerVersion}
      </button>
      {bring.error && (
        <span role="alert" className="block text-sm text-error">
          {bring.error.message}
        </span>
      )}
    </span>
  )
}
