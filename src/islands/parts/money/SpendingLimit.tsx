import { useState } from 'react'
import type { BasketWire } from '../../../contract'
import { currencyDecimals } from '../../../core/currency'
import { messages } from '../../../messages'
import { useSetLimit } from '../../api/money-queries'

type Limit = BasketWire['limits'][number]

/** The most that may be spent in a month, by currency. */
export function SpendingLimit({ basket }: { basket: BasketWire }) {
  if (basket.limits.length === 0) return null
  return (
    <section aria-labelledby="limit-head">
      <h2 id="limit-head" className="mb-2 text-xl font-semibold">
        {messages.money.monthlyLimit}
      </h2>
      {basket.limits.map((limit) => (
        <LimitForm key={`${limit.currency} ${limit.limitMinor}`} limit={limit} />
      ))}
    </section>
  )
}

function LimitForm({ limit }: { limit: Limit }) {
  const { currency, spent, limit: most } = limit
  const set = useSetLimit()
  const [text, setText] = useState(most?.split(' ')[0] ?? '')
  const minor = minorOf(text, currency)
  return (
    <form
      className="mb-4"
      onSubmit={(event) => {
        event.preventDefault()
        if (minor !== undefined) set.mutate({ currency, minor })
      }}
    >
      <p className="mb-1">
        {messages.money.spentThisMonth(spent)}
        {most ? messages.money.of(most) : ''}.
      </p>
      <div className="flex items-end gap-2">
        <label className="block min-w-0 flex-1">
          <span className="small-label block">{messages.money.atMostInEmptyFor(currency)}</span>
          <input
            className="input input-sm w-full"
            inputMode="decimal"
            value={text}
            onChange={(event) => setText(event.target.value)}
          />
        </label>
        <button type="submit" className="btn btn-sm" disabled={minor === undefined || set.isPending}>
          {messages.common.save}
        </button>
      </div>
      {minor === undefined && <p className="mt-1 text-sm">{messages.money.writeAnAmountSuchAs}</p>}
      {set.error && (
        <p role="alert" className="mt-1 text-error">
          {set.error.message}
        </p>
      )}
    </form>
  )
}

/** An amount that was typed, in the smallest unit; null for none, undefined for what is no amount. */
export function minorOf(text: string, currency: string): number | null | undefined {
  const plain = text.trim().replace(',', '.')
  if (plain === '') return null
  if (!/^\d{1,7}(?:\.\d{1,3})?$/.test(plain)) return undefined
  const minor = Number(plain) * 10 ** currencyDecimals(currency)
  return Math.abs(minor - Math.round(minor)) < 1e-6 ? Math.round(minor) : undefined
}
