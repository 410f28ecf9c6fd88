import type { ReactNode } from 'react'
import { messages } from '../../../messages'

/** What a place shows while it loads. */
export function Loading({ what }: { what: string }) {
  return (
    <p role="status" className="quiet flex items-center gap-3 p-6">
      <span className="loading loading-dots loading-sm" aria-hidden="true" />
      {what} …
    </p>
  )
}

/** What a place shows when something failed: what happened, and a way to try again. */
export function Failed({ error, onRetry }: { error: unknown; onRetry?: () => void }) {
  return (
    <div role="alert" className="flex flex-wrap items-center gap-4 p-6">
      <p>{error instanceof Error ? error.message : messages.shared.somethingWentWrong}</p>
      {onRetry && (
        <button type="button" className="btn btn-sm" onClick={onRetry}>
          {messages.common.tryAgain}
        </button>
      )}
    </div>
  )
}

/** What a place shows when there is nothing yet: what it is for, and what to do next. */
export function Empty({ title, children, action }: { title: string; children: ReactNode; action?: ReactNode }) {
  return (
    <div className="max-w-xl p-8">
      <h2 className="mb-2 text-xl font-semibold">{title}</h2>
      <div className="quiet mb-5">{children}</div>
      {action}
    </div>
  )
}
