import { Link } from 'wouter'
import type { BasketWire } from '../../contract'
import { messages } from '../../messages'
import { useBasket, usePay } from '../api/money-queries'
import { BasketRow } from '../parts/money/BasketRow'
import { SpendingLimit } from '../parts/money/SpendingLimit'
import { Empty, Failed, Loading } from '../parts/shared/States'

/** The basket: what was chosen to be bought, by library, and the one place where it is paid for. */
export function BasketPlace() {
  const query = useBasket()
  const basket = query.data
  return (
    <div className="grid h-full grid-cols-[minmax(0,1fr)_20.500rem] max-lg:grid-cols-1 max-lg:overflow-y-auto">
      <section
        aria-label={messages.money.inTheBasket}
        className="min-h-0 min-w-0 overflow-y-auto p-8 max-lg:overflow-visible max-sm:p-4"
      >
        <h1 className="mb-6 text-3xl font-semibold">{messages.money.basket}</h1>
        {query.isPending && <Loading what={messages.money.openingTheBasket} />}
        {query.isError && <Failed error={query.error} onRetry={() => void query.refetch()} />}
        {basket?.lines.length === 0 && (
          <Empty
            title={messages.money.theBasketIsEmpty}
            action={
              <Link href="/find" className="btn btn-primary">
                {messages.common.findASound}
              </Link>
            }
          >
            {messages.money.chooseATierBesideA}
          </Empty>
        )}
        {basket?.totals.map(({ sourceId, sourceName, total }) => (
          <Library key={sourceId} basket={basket} sourceId={sourceId} sourceName={sourceName} total={total} />
        ))}
        {basket && <NotOffered basket={basket} />}
      </section>
      <aside
        aria-label={messages.money.paying}
        // biome-ignore lint/a11y/noNoninteractiveTabindex: it scrolls, so the keyboard must reach it
        tabIndex={0}
        className="min-h-0 space-y-7 overflow-y-auto border-l ruled bg-base-200 p-6 max-lg:border-t"
      >
        {basket && (
          <>
            <Pay basket={basket} />
            <SpendingLimit basket={basket} />
          </>
        )}
      </aside>
    </div>
  )
}

function Library({
  basket,
  sourceId,
  sourceName,
  total,
}: {
  basket: BasketWire
  sourceId: string
  sourceName: string
  total: string
}) {
  const lines = basket.lines.filter((line) => line.sourceId === sourceId && line.isOffered)
  return (
    <section aria-label={sourceName} className="mb-8">
      <h2 className="flex items-baseline justify-between gap-4 border-b ruled pb-1 text-xl font-semibold">
        <span>{sourceName}</span>
        <span className="tabular-nums">{total}</span>
      </h2>
      <ul>
        {lines.map((line) => (
          <BasketRow key={line.id} line={line} />
        ))}
      </ul>
    </section>
  )
}

/** What was put in and is not sold any more. */
function NotOffered({ basket }: { basket: BasketWire }) {
  const lines = basket.lines.filter(({ isOffered }) => !isOffered)
  if (lines.length === 0) return null
  return (
    <section aria-label={messages.money.notOfferedAnyMore}>
      <h2 className="border-b ruled pb-1 text-xl font-semibold">{messages.money.notOfferedAnyMore}</h2>
      <ul>
        {lines.map((line) => (
          <BasketRow key={line.id} line={line} />
        ))}
      </ul>
    </section>
  )
}

/** The one press that spends money. */
function Pay({ basket }: { basket: BasketWire }) {
  const pay = usePay()
  const lines = basket.lines.filter(({ isOffered }) => isOffered)
  const total = basket.totals.map((one) => one.total).join(messages.money.and)
  return (
    <section aria-labelledby="pay-head">
      <h2 id="pay-head" className="mb-2 text-xl font-semibold">
        {lines.length === 0 ? messages.money.nothingToPay : total}
      </h2>
      {lines.length > 0 && (
        <>
          <ul className="mb-2 space-y-0.5">
            {basket.totals.map((one) => (
              <li key={one.sourceId} className="flex justify-between gap-3">
                <span>{one.sourceName}</span>
                <span className="tabular-nums">{one.total}</span>
              </li>
            ))}
          </ul>
          <p className="quiet mb-3 text-sm">
            {messages.money.licensedTo(messages.counts.sounds(lines.length), basket.licensee)}
          </p>
          <button
            type="button"
            className="btn btn-primary w-full"
            disabled={pay.isPending}
            onClick={() => pay.mutate(lines.map(({ id, priceMinor, currency }) => ({ id, priceMinor, currency })))}
          >
            {messages.money.pay(total)}
          </button>
        </>
      )}
      {pay.data && <p role="status">{messages.money.underWay(messages.counts.orders(pay.data.orderCount))}</p>}
      {pay.error && (
        <p role="alert" className="mt-2 text-error">
          {pay.error.message}
        </p>
      )}
      <p className="mt-3 text-sm">
        <Link href="/papers/orders" className="underline underline-offset-4">
          {messages.money.allOrders}
        </Link>
      </p>
    </section>
  )
}
