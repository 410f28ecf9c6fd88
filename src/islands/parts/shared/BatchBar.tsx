import { Download } from 'lucide-react'
import { useState } from 'react'
import { messages } from '../../../messages'
import { isUnderWay } from '../../api/job-list'
import { useJobOf } from '../../api/jobs'
import { useBatchPlan, useShelfEdit, useStartBatch } from '../../api/shelf-queries'

/** What can be done with several sounds at once: keep them, or download them all as one job at one price. */
export function BatchBar({ soundIds, onClose }: { soundIds: readonly number[]; onClose: () => void }) {
  const plan = useBatchPlan(soundIds)
  const start = useStartBatch()
  const edit = useShelfEdit()
  const [batchId, setBatchId] = useState<number | null>(null)
  const job = useJobOf('batch', String(batchId ?? ''))
  const lines = plan.data?.lines ?? []
  const wanted = lines.filter(({ how }) => how === 'free' || how === 'buy')
  const bought = lines.filter(({ how }) => how === 'buy')
  return (
    <section
      aria-label={messages.shared.severalSounds}
      className="flex flex-wrap items-center gap-3 border-t ruled bg-base-200 px-4 py-1.5 text-sm"
    >
      <span className="font-semibold">{messages.shared.selected(messages.counts.sounds(soundIds.length))}</span>
      <button type="button" className="btn btn-sm" onClick={() => edit.mutate({ do: 'keep', soundIds: [...soundIds] })}>
        {messages.shared.keepThem}
      </button>
      <button
        type="button"
        className="btn btn-sm btn-primary"
        disabled={wanted.length === 0 || start.isPending || isUnderWay(job)}
        title={bought.map(({ title, tierTitle }) => `${title}: ${tierTitle}`).join('\n')}
        onClick={() =>
          start.mutate(
            lines.filter(({ how }) => how !== 'not').map(({ soundId, priceMinor }) => ({ soundId, priceMinor })),
            { onSuccess: (begun) => setBatchId(begun.batchId) },
          )
        }
      >
        <Download size={15} aria-hidden="true" />
        {wanted.length === 0
          ? messages.shared.allAreHere
          : messages.shared.download(
              wanted.length,
              bought.length === 0 ? messages.shared.costsNothingMore : messages.shared.inAll(plan.data?.total),
            )}
      </button>
      {isUnderWay(job) && <span role="status">{job.message}</span>}
      {batchId !== null && !isUnderWay(job) && (
        <a className="underline" href={`/api/batches/${batchId}/files`} download>
          {messages.shared.saveTheFilesAsOne}
        </a>
      )}
      {(plan.error ?? start.error ?? edit.error) && (
        <span role="alert" className="text-error">
          {(plan.error ?? start.error ?? edit.error)?.message}
        </span>
      )}
      <span className="flex-1" />
      <button type="button" className="btn btn-ghost btn-sm" onClick={onClose}>
        {messages.shared.clearSelection}
      </button>
    </section>
  )
}
