import type { Room } from '../../../contract'
import { messages } from '../../../messages'
import { useRoom, useSweep } from '../../api/room-queries'
import { sizeWords } from '../../format/words'
import { Failed, Loading } from '../shared/States'

const WHAT_WORDS: Readonly<Record<Room['items'][number]['what'], string>> = {
  videos: messages.sources.finishedVideos,
  copies: messages.sources.copiesOfSounds,
  'own files': messages.sources.filesOfYourFolders,
  evidence: messages.sources.receiptsAndEvidence,
  previews: messages.sources.previews,
  features: messages.sources.analysisOfEachSound,
  database: messages.sources.databaseWithTheCheckedTracks,
  unused: messages.sources.notUsedByAnything,
}

/** What takes how much room on this disk, and a way to clear what nothing uses. */
export function RoomTaken() {
  const query = useRoom()
  const sweep = useSweep()
  const items = query.data?.items ?? []
  const most = Math.max(1, ...items.map(({ bytes }) => bytes))
  const unused = items.find(({ what }) => what === 'unused')
  return (
    <section aria-labelledby="room" className="mt-10 border-t ruled pt-5">
      <h2 id="room" className="text-xl font-semibold">
        {messages.sources.diskSpace}
      </h2>
      {query.isPending && <Loading what={messages.sources.addingUp} />}
      {query.isError && <Failed error={query.error} onRetry={() => void query.refetch()} />}
      {query.data && (
        <>
          <p className="quiet mt-1">{messages.sources.areFree(sizeWords(query.data.freeBytes))}</p>
          <ul className="mt-3 max-w-3xl" aria-label={messages.sources.whatTakesSpace}>
            {items.map(({ what, bytes, count }) => (
              <li key={what} className="grid grid-cols-[18rem_1fr_9rem] items-center gap-4 py-1">
                <span>{WHAT_WORDS[what]}</span>
                <span className="block h-2 bg-base-300">
                  <span className="block h-2 bg-base-content/60" style={{ width: `${(100 * bytes) / most}%` }} />
                </span>
                <span className="quiet text-right text-sm">
                  {sizeWords(bytes)}, {messages.counts.files(count)}
                </span>
              </li>
            ))}
          </ul>
          {unused && (
            <button type="button" className="btn btn-sm mt-3" disabled={sweep.isPending} onClick={() => sweep.mutate()}>
              {messages.sources.deleteWhatNothingUses}
            </button>
          )}
          {unused && <p className="quiet mt-1 text-sm">{messages.sources.filesOfTheLastDay}</p>}
          {sweep.error && (
            <p role="alert" className="text-error">
              {sweep.error.message}
            </p>
          )}
        </>
      )}
    </section>
  )
}
