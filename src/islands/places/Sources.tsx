import { FolderPlus, KeyRound, Pause, Play, Plug, RefreshCw } from 'lucide-react'
import { useState } from 'react'
import { Link } from 'wouter'
import type { SourceWire } from '../../contract'
import { usePause } from '../api/account-queries'
import { isUnderWay } from '../api/job-list'
import { useJobOf } from '../api/jobs'
import { useScan } from '../api/papers-queries'
import { useSources, useSync } from '../api/queries'
import { useRemove } from '../api/room-queries'
import { counted, dayHere, dayWords, momentWords } from '../format/words'
import { RemovedList } from '../parts/shared/RemovedList'
import { Failed, Loading } from '../parts/shared/States'
import { Backups } from '../parts/sources/Backups'
import { ConnectDialog } from '../parts/sources/ConnectDialog'
import { Elsewhere } from '../parts/sources/Elsewhere'
import { Fact } from '../parts/sources/Fact'
import { FilesWhole } from '../parts/sources/FilesWhole'
import { FolderDialog } from '../parts/sources/FolderDialog'
import { KeyDialog } from '../parts/sources/KeyDialog'
import { NewerPack, PackDrop } from '../parts/sources/Packs'
import { Proposals } from '../parts/sources/Proposals'
import { RoomTaken } from '../parts/sources/RoomTaken'

/** Sources: the libraries, own folders, and what came from elsewhere; their plan, counts and state. */
export function Sources() {
  const query = useSources()
  const [adding, setAdding] = useState(false)
  const [connecting, setConnecting] = useState(false)
  const of = (kind: SourceWire['kind']): SourceWire[] => query.data?.sources.filter((one) => one.kind === kind) ?? []
  const [elsewhere] = of('elsewhere')
  return (
    <div className="relative h-full overflow-y-auto">
      <div className="mx-auto max-w-5xl p-8">
        <h1 className="mb-6 text-3xl font-semibold">Sources</h1>
        {query.isPending && <Loading what="Looking at the libraries" />}
        {query.isError && <Failed error={query.error} onRetry={() => void query.refetch()} />}
        {query.data && (
          <>
            <Proposals />
            <div className="mb-2 flex items-center justify-between">
              <h2 className="text-xl font-semibold">Libraries</h2>
              <button type="button" className="btn btn-sm" onClick={() => setConnecting(true)}>
                <Plug size={16} aria-hidden="true" /> Connect a library
              </button>
            </div>
            {of('library').length === 0 && (
              <p className="quiet border-t ruled py-4">
                No library yet. Connect one, and its sounds can be searched, heard and downloaded here.
              </p>
            )}
            <ul className="mb-8">
              {of('library').map((source) => (
                <Library key={source.id} source={source} />
              ))}
            </ul>
            <div className="mb-2 flex items-center justify-between">
              <h2 className="text-xl font-semibold">Your folders and packs</h2>
              <button type="button" className="btn btn-sm" onClick={() => setAdding(true)}>
                <FolderPlus size={16} aria-hidden="true" /> Add a folder
              </button>
            </div>
            {of('folder').length === 0 && (
              <p className="quiet border-t ruled py-4">
                None yet. Sounds on this machine become searchable like those of a library, with the papers that you
                have for them.
              </p>
            )}
            <ul>
              {of('folder').map((source) => (
                <Folder key={source.id} source={source} />
              ))}
            </ul>
            <PackDrop />
            <h2 className="mb-2 text-xl font-semibold">From elsewhere</h2>
            {elsewhere && <Elsewhere source={elsewhere} />}
            <RemovedList of={['sources']} />
            <RoomTaken />
            <FilesWhole />
            <Backups />
          </>
        )}
      </div>
      {connecting && (
        <ConnectDialog
          takenNames={query.data?.sources.map(({ name }) => name) ?? []}
          onClose={() => setConnecting(false)}
        />
      )}
      {adding && <FolderDialog onClose={() => setAdding(false)} />}
    </div>
  )
}

function Library({ source }: { source: SourceWire }) {
  const { id, name, connected, paused } = source
  const sync = useSync()
  const remove = useRemove('sources')
  const pause = usePause()
  const [changingKey, setChangingKey] = useState(false)
  const job = useJobOf('mirror', id)
  const working = isUnderWay(job)
  return (
    <Row
      source={source}
      message={working ? job.message : null}
      failure={sync.error ?? pause.error}
      action={
        <div className="flex flex-wrap justify-end gap-1">
          <button
            type="button"
            className={`btn btn-sm ${connected ? '' : 'btn-primary'}`}
            disabled={working || paused}
            onClick={() => sync.mutate(id)}
          >
            <RefreshCw size={16} aria-hidden="true" className={working ? 'animate-spin' : ''} />
            {connected ? 'Sync now' : 'Connect'}
          </button>
          <button
            type="button"
            className="btn btn-sm btn-ghost"
            aria-label={`Key for ${name}`}
            onClick={() => setChangingKey(true)}
          >
            <KeyRound size={16} aria-hidden="true" /> Key
          </button>
          {connected && (
            <>
              <button
                type="button"
                className="btn btn-sm btn-ghost"
                disabled={pause.isPending}
                onClick={() => pause.mutate({ id, paused: !paused })}
                title="It is not asked for anything while it is paused; its sounds stay in the search."
              >
                {paused ? <Play size={16} aria-hidden="true" /> : <Pause size={16} aria-hidden="true" />}
                {paused ? 'Resume' : 'Pause'}
              </button>
              <button
                type="button"
                className="btn btn-sm btn-ghost"
                disabled={working || remove.isPending}
                onClick={() => remove.mutate({ id, words: `“${name}” was disconnected.` })}
                title="Its sounds leave the search; papers and copies stay."
              >
                Disconnect
              </button>
            </>
          )}
          {changingKey && <KeyDialog source={source} onClose={() => setChangingKey(false)} />}
        </div>
      }
    >
      <Fact name="Plan">{connected ? planWords(source) : 'not connected'}</Fact>
      {source.live && <Fact name="Catalogue">searched while you type</Fact>}
      {paused && (
        <Fact name="State">
          <span className="font-semibold">Paused</span>
        </Fact>
      )}
      {source.address !== null && <Fact name="Address">{source.address}</Fact>}
    </Row>
  )
}

function planWords({ plan, planUntil }: SourceWire): React.ReactNode {
  if (planUntil === null) return plan
  const ended = planUntil < dayHere(new Date())
  return (
    <span className={ended ? 'font-semibold text-error' : ''}>
      {plan}, {ended ? 'ended on' : 'until'} {dayWords(planUntil)}
    </span>
  )
}

function Folder({ source }: { source: SourceWire }) {
  const scan = useScan()
  const remove = useRemove('sources')
  const job = useJobOf('scan', source.id)
  const working = isUnderWay(job)
  return (
    <Row
      source={source}
      message={working ? job.message : null}
      action={
        <div className="flex gap-1">
          {source.folderPath === null ? (
            <NewerPack source={source} disabled={working} />
          ) : (
            <button type="button" className="btn btn-sm" disabled={working} onClick={() => scan.mutate(source.id)}>
              <RefreshCw size={16} aria-hidden="true" className={working ? 'animate-spin' : ''} />
              Scan again
            </button>
          )}
          <button
            type="button"
            className="btn btn-sm btn-ghost"
            disabled={working || remove.isPending}
            onClick={() => remove.mutate({ id: source.id, words: `“${source.name}” was removed.` })}
            title="Its sounds leave the search; papers and copies stay."
          >
            Remove
          </button>
        </div>
      }
    >
      <Fact name="Papers for all">{source.defaultTerms ?? 'none'}</Fact>
      <Fact name="Without papers">
        {source.noPapersCount > 0 ? <Link href="/papers">{counted(source.noPapersCount, 'sound')}</Link> : 'none'}
      </Fact>
    </Row>
  )
}

const LAST = { library: 'Last sync', folder: 'Last scan', elsewhere: 'Last scan', pack: 'Unpacked' } as const

function Row(props: {
  source: SourceWire
  message: string | null
  failure?: Error | null
  action: React.ReactNode
  children: React.ReactNode
}) {
  const { source, message, failure, action, children } = props
  const unheard = source.soundCount - source.listenedCount
  return (
    <li className="grid grid-cols-[1fr_auto] items-start gap-x-8 gap-y-1.5 border-t ruled py-4">
      <div className="min-w-0">
        <h3 className="text-lg font-semibold">{source.name}</h3>
        <p className="quiet break-words">{source.about}</p>
      </div>
      {action}
      <dl className="col-span-2 flex flex-wrap gap-x-8 gap-y-1 text-sm">
        {children}
        <Fact name={source.live ? 'Sounds seen' : 'Sounds'}>
          {source.soundCount.toLocaleString('en-GB')}
          {unheard > 0 && !source.live ? `, ${unheard} not listened to` : ''}
        </Fact>
        <Fact name="Copies here">{source.copyCount}</Fact>
        <Fact name={LAST[source.kind === 'folder' && source.folderPath === null ? 'pack' : source.kind]}>
          {source.lastSyncAt ? momentWords(source.lastSyncAt) : 'never'}
        </Fact>
        {source.lastResult && !message && !source.lastError && <Fact name="Last result">{source.lastResult}</Fact>}
      </dl>
      <p className="col-span-2 text-sm" role="status">
        {message && <span className="quiet">{message}</span>}
        {!message && source.lastError && <span className="text-error">{source.lastError}</span>}
        {failure && <span className="block text-error">{failure.message}</span>}
      </p>
      {source.misfitLabels.length > 0 && (
        <p className="col-span-2 text-sm">
          {source.misfitLabels.join('; ')}: the text served is not that licence, so nothing is taken to be allowed by
          it.
        </p>
      )}
    </li>
  )
}
