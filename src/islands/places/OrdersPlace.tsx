import { Download } from 'lucide-react'
import { Link, useSearch } from 'wouter'
import { messages } from '../../messages'
import { useJournal } from '../api/money-queries'
import { OrderRow } from '../parts/money/OrderRow'
import { PapersNav } from '../parts/papers/PapersNav'
import { Empty, Failed, Loading } from '../parts/shared/States'

/** The money journal: every order, how it stands, its receipt, and what was paid by library and month. */
export function OrdersPlace() {
  const query = useJournal()
  const soundId = Number(new URLSearchParams(useSearch()).get('sound')) || null
  const all = query.data?.orders ?? []
  const orders = soundId === null ? all : all.filter((order) => order.soundId === soundId)
  return (
    <div className="grid h-full grid-cols-[minmax(0,1fr)_20.500rem] max-lg:grid-cols-1 max-lg:overflow-y-auto">
      <section aria-label={messages.common.orders} className="min-h-0 min-w-0 overflow-y-auto max-lg:overflow-visible">
        <PapersNav>
          {all.length > 0 && (
            <a className="btn btn-sm btn-outline ml-auto border-base-content/40" href="/api/orders/export" download>
              <Download size={15} aria-hidden="true" /> {messages.money.saveAsCsv}
            </a>
          )}
        </PapersNav>
        <div className="px-4 pb-8">
          {query.isPending && <Loading what={messages.money.gatheringTheOrders} />}
          {query.isError && <Failed error={query.error} onRetry={() => void query.refetch()} />}
          {query.data && all.length === 0 && (
            <Empty
              title={messages.money.nothingWasBoughtYet}
              action={
                <Link href="/find" className="btn btn-primary">
                  {messages.common.findASound}
                </Link>
              }
            >
              {messages.money.everyOrderShowsHereWith}
            </Empty>
          )}
          {soundId !== null && (
            <p className="mb-2">
              {messages.money.ofOneSound(
                messages.counts.orders(orders.length),
                <Link href="/papers/orders" className="underline underline-offset-4">
                  {messages.money.showAll(all.length)}
                </Link>,
              )}
            </p>
          )}
          <ul>
            {orders.map((order) => (
              <OrderRow key={order.id} order={order} />
            ))}
          </ul>
        </div>
      </section>
      <aside
        aria-label={messages.money.whatWasPaid}
        // biome-ignore lint/a11y/noNoninteractiveTabindex: it scrolls, so the keyboard must reach it
        tabIndex={0}
        className="min-h-0 overflow-y-auto border-l ruled bg-base-200 p-6 max-lg:border-t"
      >
        <h2 className="mb-2 text-xl font-semibold">{messages.money.byLibraryAndMonth}</h2>
        {query.data?.totals.length === 0 && <p className="quiet">{messages.money.nothingWasPaidYet}</p>}
        <table className="w-full">
          <thead className="sr-only">
            <tr>
              <th>{messages.money.month}</th>
              <th>{messages.money.library}</th>
              <th>{messages.money.paid}</th>
            </tr>
          </thead>
          <tbody>
            {query.data?.totals.map(({ month, sourceName, total }) => (
              <tr key={`${month} ${sourceName}`} className="border-t ruled">
                <td className="py-1.5 pr-3 tabular-nums">{monthWords(month)}</td>
                <td className="pr-3">{sourceName}</td>
                <td className="whitespace-nowrap text-right tabular-nums">{total}</td>
              </tr>
            ))}
          </tbody>
        </table>
      </aside>
    </div>
  )
}

/** "Nov 2026". @param month YYYY-MM. */
function monthWords(month: string): string {
  return new Date(`${month}-01`).toLocaleDateString('en-GB', { month: 'short', year: 'numeric', timeZone: 'UTC' })
}
