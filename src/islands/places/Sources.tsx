import { RefreshCw } from 'lucide-react'
import type { SourceWire } from '../../contract'
import { Failed, Loading } from '../parts/States'
import { useJobOf } from '../state/jobs'
import { useSources, useSync } from '../state/queries'
import { counted, dayWords, momentWords } from '../state/words'

/** Sources: the connected libraries, their plan, counts and state. */
export function Sources() {
  const query = useSources()
  return (
    <div className="h-full overflow-y-auto">
      <div className="mx-auto max-w-5xl p-8">
        <h1 className="mb-6 text-3xl font-semibold">Sources</h1>
        {query.isPending && <Loading what="Looking at the libraries" />}
        {query.isError && <Failed error={query.error} onRetry={() => void query.refetch()} />}
        <ul>
          {query.data?.sources.map((source) => (
            <SourceRow key={source.id} source={source} />
          ))}
        </ul>
      </div>
    </div>
  )
}

function SourceRow({ source }: { source: SourceWire }) {
  const sync = useSync()
  const job = useJobOf('mirror', source.id)
  const working = job?.state === 'queued' || job?.state === 'running'
  const unheard = source.soundCount - source.listenedCount
  return (
    <li className="grid grid-cols-[1fr_auto] items-start gap-x-8 gap-y-2 border-t ruled py-5">
      <div>
        <h2 className="text-xl font-semibold">{source.name}</h2>
        <p className="quiet">{source.about}</p>
      </div>
      <button
        type="button"
        className={`btn ${source.connected ? '' : 'btn-primary'}`}
        disabled={working}
        onClick={() => sync.mutate(source.id)}
      >
        <RefreshCw size={16} aria-hidden="true" className={working ? 'animate-spin' : ''} />
        {source.connected ? 'Sync now' : 'Connect'}
      </button>
      <dl className="flex flex-wrap gap-x-8 gap-y-1 text-sm">
        <Fact name="Plan">
          {source.connected ? source.plan : 'not connected'}
          {source.planUntil ? `, until ${dayWords(source.planUntil)}` : ''}
        </Fact>
        <Fact name="Catalogue">
          {counted(source.soundCount, 'sound')}
          {unheard > 0 ? `, ${unheard} not listened to` : ''}
        </Fact>
        <Fact name="Copies here">{source.copyCount}</Fact>
        <Fact name="Last sync">{source.lastSyncAt ? momentWords(source.lastSyncAt) : 'never'}</Fact>
      </dl>
      <p className="col-span-2 text-sm" role="status">
        {working && <span className="quiet">{job.message}</span>}
        {!working && source.lastError && <span className="text-error">{source.lastError}</span>}
      </p>
    </li>
  )
}

function Fact({ name, children }: { name: string; children: React.ReactNode }) {
  return (
    <div>
      <dt className="small-label">{name}</dt>
      <dd>{children}</dd>
    </div>
  )
}
