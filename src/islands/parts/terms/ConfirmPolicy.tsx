import { useState } from 'react'
import { useLocation } from 'wouter'
import type { TermsPage } from '../../../contract'
import { CLAUSE_WORDS, type ClauseKey, limitWords } from '../../../core/rights'
import { messages } from '../../../messages'
import { useConfirmPolicy } from '../../api/papers-queries'
import { Quote } from './Reasons'

/** The points of an imported policy, to be confirmed one by one. Nothing is ticked beforehand. */
export function ConfirmPolicy({ page, keys }: { page: TermsPage; keys: readonly ClauseKey[] }) {
  const [confirmed, setConfirmed] = useState<readonly ClauseKey[]>([])
  const confirm = useConfirmPolicy(page.id)
  const [, navigate] = useLocation()
  const points = page.clauses.filter(({ key }) => keys.includes(key))
  return (
    <section aria-labelledby="to-confirm" className="mb-8 rounded border ruled bg-base-200 p-5">
      <h3 id="to-confirm" className="text-lg font-semibold">
        {messages.terms.confirmWhatThisPolicyPermits}
      </h3>
      {points.length === 0 ? (
        <p className="mt-1">{messages.terms.itPermitsNothingThatCould}</p>
      ) : (
        <>
          <p className="quiet mt-1 mb-3">{messages.terms.itCameInAFile}</p>
          <ul className="grid gap-x-10 gap-y-3 lg:grid-cols-2">
            {points.map(({ key, answer, quote, limit }) => (
              <li key={key}>
                <label className="flex items-start gap-2">
                  <input
                    type="checkbox"
                    className="checkbox checkbox-sm mt-0.5"
                    checked={confirmed.includes(key)}
                    onChange={({ target }) =>
                      setConfirmed(target.checked ? [...confirmed, key] : confirmed.filter((one) => one !== key))
                    }
                  />
                  <span>
                    <strong>{CLAUSE_WORDS[key]}</strong>{' '}
                    {answer === 'duty' ? (limit ? `(${limitWords(limit)})` : messages.terms.onACondition) : ''}
                  </span>
                </label>
                {quote && (
                  <div className="pl-7 [overflow-wrap:anywhere]">
                    <Quote text={quote} />
                  </div>
                )}
              </li>
            ))}
          </ul>
          {confirm.error && (
            <p role="alert" className="mt-3 text-error">
              {confirm.error.message}
            </p>
          )}
          <button
            type="button"
            className="btn btn-primary btn-sm mt-4"
            disabled={confirmed.length === 0 || confirm.isPending}
            onClick={() =>
              confirm.mutate(confirmed, { onSuccess: ({ termsId }) => navigate(`/papers/terms/${termsId}`) })
            }
          >
            {messages.terms.confirmOfPoints(confirmed.length, points.length)}
          </button>
        </>
      )}
    </section>
  )
}
