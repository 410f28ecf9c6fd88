import { Link } from 'wouter'
import { ORDER_STATE_WORDS, type OrderWire } from '../../../contract'
import { messages } from '../../../messages'
import { isUnderWay } from '../../api/job-list'
import { useJobOf } from '../../api/jobs'
import { useFinishOrder } from '../../api/money-queries'
import { dayWords, momentWords } from '../../format/words'

/** One order of the journal. */
export function OrderRow({ order }: { order: OrderWire }) {
  return (
    <li className="grid grid-cols-[6.5rem_minmax(0,1fr)_auto] gap-x-4 border-t ruled py-3 max-sm:grid-cols-[minmax(0,1fr)_auto]">
      <span className="quiet pt-0.5 tabular-nums max-sm:col-span-2">{dayWords(order.at)}</span>
      <div className="min-w-0 [overflow-wrap:anywhere]">
        <p>
          <Link
            href={`/find?q=${encodeURIComponent(`"${order.title}"`)}`}
            className="text-lg font-semibold underline-offset-4 hover:underline"
          >
            {order.title}
          </Link>{' '}
          <span className="quiet">
            · {order.sourceName} · {order.tier}
            {order.videoTitle ? messages.money.for(order.videoTitle) : ''}
          </span>
        </p>
        <OrderState order={order} />
      </div>
      <div className="text-right">
        <p className="text-lg tabular-nums">{order.paid ?? '–'}</p>
        {order.paid !== null && order.paid !== order.agreed && (
          <p className="text-sm">{messages.money.agreed(order.agreed)}</p>
        )}
        {order.receiptId !== null && (
          <a href={`/api/evidence/${order.receiptId}`} className="text-sm underline underline-offset-4">
            {messages.money.receipt}
          </a>
        )}
      </div>
    </li>
  )
}

/** How an order stands, and the way to finish it. */
export function OrderState({ order }: { order: OrderWire }) {
  const finish = useFinishOrder()
  const job = useJobOf('purchase', String(order.id))
  const running = isUnderWay(job)
  const { state, message, nextTryAt, order: ref } = order
  const canFinish = state !== 'done' && state !== 'not-bought'
  return (
    <>
      <p className={state === 'done' || state === 'not-bought' ? 'quiet' : 'font-medium'}>
        {upperFirst(ORDER_STATE_WORDS[state])}
        {ref ? messages.money.order(ref) : ''}
      </p>
      {running && <p role="status">{job.message}</p>}
      {!running && message && <p>{message}</p>}
      {!running && canFinish && (
        <p className="mt-1.5 flex flex-wrap items-center gap-3">
          <button
            type="button"
            className="btn btn-sm"
            disabled={finish.isPending}
            onClick={() => finish.mutate(order.id)}
          >
            {FINISH_WORDS[state]}
          </button>
          {nextTryAt && (
            <span className="quiet text-sm">{messages.money.triedAgainByItself(momentWords(nextTryAt))}</span>
          )}
        </p>
      )}
      {finish.error && (
        <p role="alert" className="mt-1 text-error">
          {finish.error.message}
        </p>
      )}
    </>
  )
}

const FINISH_WORDS: Readonly<Record<OrderWire['state'], string>> = {
  done: '',
  'not-bought': '',
  'file-to-come': messages.money.fetchTheFileNow,
  'receipt-to-come': messages.money.fetchTheReceiptNow,
  disputed: messages.money.takeTheFileAtThis,
  'not-answered': messages.money.askAgain,
}

function upperFirst(text: string): string {
  return text.charAt(0).toUpperCase() + text.slice(1)
}
