import { messages } from '../../../messages'
import type { LiveState } from '../../api/live-queries'

/** How the search of each library that is not mirrored stands; none is waited for. */
export function LiveLine({ states }: { states: readonly LiveState[] }) {
  if (states.length === 0) return null
  return (
    <ul
      aria-label={messages.find.librariesThatAreSearched}
      className="flex flex-wrap gap-x-4 gap-y-1 px-4 pb-2 text-sm"
      role="status"
    >
      {states.map(({ source, state, count, total, error, more, retry }) => (
        <li key={source.id} data-live={state} className="flex items-center gap-2">
          <span className="font-semibold">{source.name}</span>
          {state === 'searching' && <span className="quiet">{messages.find.searching}</span>}
          {state === 'found' && <span className="quiet">{foundWords(count, total)}</span>}
          {state === 'failed' && (
            <>
              <span className="text-error" title={error?.message}>
                {messages.find.notReachable}
              </span>
              <button
                type="button"
                className="btn btn-xs"
                onClick={retry}
                aria-label={messages.find.tryAgain(source.name)}
              >
                {messages.common.tryAgain}
              </button>
            </>
          )}
          {more && state === 'found' && (
            <button
              type="button"
              className="btn btn-xs"
              onClick={more}
              aria-label={messages.find.moreFrom(source.name)}
            >
              {messages.find.moreButton}
            </button>
          )}
        </li>
      ))}
    </ul>
  )
}

function foundWords(count: number, total: number | null): string {
  if (count === 0) return 'nothing'
  return total === null || total <= count
    ? `${count}`
    : messages.find.shownOfTotal(count, total.toLocaleString('en-GB'))
}
