import { Undo2 } from 'lucide-react'
import type { RemovedThings } from '../../../contract'
import { messages } from '../../../messages'
import { useBringBack, useRemoved } from '../../api/room-queries'
import { momentWords } from '../../format/words'
import { Failed } from './States'

type Removed = RemovedThings['removed'][number]

/** What was removed in the last month, of some kinds, each with the way back; nothing when there is none, and while that is asked. */
export function RemovedList({ of }: { of: readonly Removed['what'][] }) {
  const query = useRemoved()
  const bringBack = useBringBack()
  const removed = query.data?.removed.filter(({ what }) => of.includes(what)) ?? []
  if (query.error) return <Failed error={query.error} onRetry={() => void query.refetch()} />
  if (removed.length === 0) return null
  return (
    <details className="mt-6 border-t ruled pt-4">
      <summary className="cursor-pointer font-semibold">{messages.shared.removedInTheLast30(removed.length)}</summary>
      <ul aria-label={messages.shared.removedInTheLast30Days} className="mt-1">
        {removed.map((one) => (
          <li key={`${one.what} ${one.id}`} className="flex items-center gap-4 border-b ruled py-1.5">
            <span className="min-w-0 flex-1 truncate">{nameOf(one)}</span>
            <span className="quiet whitespace-nowrap text-sm">{momentWords(one.removedAt)}</span>
            <button
              type="button"
              className="btn btn-ghost btn-xs"
              aria-label={messages.shared.restoreNamed(nameOf(one))}
              disabled={bringBack.isPending}
              onClick={() => bringBack.mutate(one)}
            >
              <Undo2 size={14} aria-hidden="true" /> {messages.shared.restoreButton}
            </button>
          </li>
        ))}
      </ul>
      {bringBack.error && (
        <p role="alert" className="text-error">
          {bringBack.error.message}
        </p>
      )}
    </details>
  )
}

function nameOf({ what, name, videoTitle }: Removed): string {
  if (what === 'videos' || what === 'sources') return name
  if (what === 'cuts') return messages.shared.theCutOf(name, videoTitle)
  return what === 'exports' ? messages.shared.of(name, videoTitle) : messages.shared.theCheckOfOf(name, videoTitle)
}
