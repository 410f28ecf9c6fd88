import { FolderPlus, KeyRound, Pause, Play, Plug, RefreshCw } from 'lucide-react'
import { useState } from 'react'
import { Link } from 'wouter'
import type { SourceWire } from '../../contract'
import { messages } from '../../messages'
import { usePause } from '../api/account-queries'
import { isUnderWay } from '../api/job-list'
import { useJobOf } from '../api/jobs'
import { useScan } from '../api/papers-queries'
import { useSources, useSync } from '../api/queries'
import { useRemove } from '../api/room-queries'
import { dayHere, dayWords, momentWords } from '../format/words'
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
        <h1 className="mb-6 text-3xl font-semibold">{messages.sources.sources}</h1>
        {query.isPending && <Loading what={messages.sources.lookingAtTheLibraries} />}
        {query.isError && <Failed error={query.error} onRetry={() => void query.refetch()} />}
        {query.data && (
          <>
            <Proposals />
            <div className="mb-2 flex items-center justify-between">
              <h2 className="text-xl font-semibold">{messages.sources.libraries}</h2>
              <button type="button" className="btn btn-sm" onClick={() => setConnecting(true)}>
                <Plug size={16} aria-hidden="true" /> {messages.common.connectALibrary}
              </button>
            </div>
            {of('library').length === 0 && (
              <p className="quiet border-t ruled py-4">{messages.sources.noLibraryYetConnectOne}</p>
            )}
            <ul className="mb-8">
              {of('library').map((source) => (
                <Library key={source.id} source={source} />
              ))}
            </ul>
            <div className="mb-2 flex items-center justify-between">
              <h2 className="text-xl font-semibold">{messages.sources.yourFoldersAndPacks}</h2>
              <button type="button" className="btn btn-sm" onClick={() => setAdding(true)}>
                <FolderPlus size={16} aria-hidden="true" /> {messages.sources.addAFolder}
              </button>
            </div>
            {of('folder').length === 0 && (
              <p className="quiet border-t ruled py-4">{messages.sources.noneYetSoundsOnThis}</p>
            )}
            <ul>
              {of('folder').map((source) => (
                <Folder key={source.id} source={source} />
              ))}
            </ul>
            <PackDrop />
            <h2 className="mb-2 text-xl font-semibold">{messages.sources.fromElsewhere}</h2>
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
  const { id, name, connected, mayBeRemoved, paused } = source
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
            {connected ? messages.sources.syncNow : messages.sources.connect}
          </button>
          <button
            type="button"
            className="btn btn-sm btn-ghost"
            aria-label={messages.sources.keyFor(name)}
            onClick={() => setChangingKey(true)}
          >
            <KeyRound size={16} aria-hidden="true" /> {messages.sources.key}
          </button>
          {mayBeRemoved && (
            <>
              <button
                type="button"
                className="btn btn-sm btn-ghost"
                disabled={pause.isPending}
                onClick={() => pause.mutate({ id, paused: !paused })}
                title={messages.sources.itIsNotAskedFor}
              >
                {paused ? <Play size={16} aria-hidden="true" /> : <Pause size={16} aria-hidden="true" />}
                {paused ? messages.sources.resume : messages.sources.pause}
              </button>
              <button
                type="button"
                className="btn btn-sm btn-ghost"
                disabled={working || remove.isPending}
                onClick={() =>
                  remove.mutate({
                    id,
                    words: connected ? messages.sources.wasDisconnected(name) : messages.sources.wasRemoved(name),
                  })
                }
                title={messages.sources.itsSoundsLeaveTheSearch}
              >
                {connected ? messages.sources.disconnect : messages.common.remove}
              </button>
            </>
          )}
          {changingKey && <KeyDialog source={source} onClose={() => setChangingKey(false)} />}
        </div>
      }
    >
      <Fact name={messages.sources.plan}>{connected ? planWords(source) : messages.sources.notConnected}</Fact>
      {source.live && <Fact name={messages.sources.catalogue}>{messages.sources.searchedWhileYouType}</Fact>}
      {paused && (
        <Fact name={messages.sources.state}>
          <span className="font-semibold">{messages.sources.paused}</span>
        </Fact>
      )}
      {source.address !== null && <Fact name={messages.sources.address}>{source.address}</Fact>}
    </Row>
  )
}

function planWords({ plan, planUntil }: SourceWire): React.ReactNode {
  if (planUntil === null) return plan
  const ended = planUntil < dayHere(new Date())
  return (
    <span className={ended ? 'font-semibold text-error' : ''}>
      {plan}, {ended ? messages.sources.endedOn : messages.sources.untilWord} {dayWords(planUntil)}
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
              {messages.sources.scanAgain}
            </button>
          )}
          <button
            type="button"
            className="btn btn-sm btn-ghost"
            disabled={working || remove.isPending}
            onClick={() => remove.mutate({ id: source.id, words: messages.sources.wasRemoved(source.name) })}
            title={messages.sources.itsSoundsLeaveTheSearch}
          >
            {messages.common.remove}
          </button>
        </div>
      }
    >
      <Fact name={messages.sources.papersForAll}>{source.defaultTerms ?? messages.sources.none}</Fact>
      <Fact name={messages.sources.withoutPapersFact}>
        {source.noPapersCount > 0 ? (
          <Link href="/papers">{messages.counts.sounds(source.noPapersCount)}</Link>
        ) : (
          messages.sources.none
        )}
      </Fact>
    </Row>
  )
}

const LAST = {
  library: messages.sources.lastSync,
  folder: messages.sources.lastScan,
  elsewhere: messages.sources.lastScan,
  pack: messages.sources.unpacked,
} as const

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
        <Fact name={source.live ? messages.sources.soundsSeen : messages.common.sounds}>
          {source.soundCount.toLocaleString('en-GB')}
          {unheard > 0 && !source.live ? messages.sources.notListenedTo(unheard) : ''}
        </Fact>
        <Fact name={messages.sources.copiesHere}>{source.copyCount}</Fact>
        <Fact name={LAST[source.kind === 'folder' && source.folderPath === null ? 'pack' : source.kind]}>
          {source.lastSyncAt ? momentWords(source.lastSyncAt) : messages.sources.never}
        </Fact>
        {source.lastResult && !message && !source.lastError && (
          <Fact name={messages.sources.lastResult}>{source.lastResult}</Fact>
        )}
      </dl>
      <p className="col-span-2 text-sm" role="status">
        {message && <span className="quiet">{message}</span>}
        {!message && source.lastError && <span className="text-error">{source.lastError}</span>}
        {failure && <span className="block text-error">{failure.message}</span>}
      </p>
      {source.misfitLabels.length > 0 && (
        <p className="col-span-2 text-sm">{messages.sources.theTextServedIsNot(source.misfitLabels.join('; '))}</p>
      )}
    </li>
  )
}
