import { useState } from 'react'
import { KeptHead } from '../../../contract'
import { messages } from '../../../messages'
import { useCompareHead } from '../../api/ledger-queries'

/** A line that was kept elsewhere, compared with the entry of that number. */
export function KeptHeadForm() {
  const [line, setLine] = useState('')
  const compare = useCompareHead()
  const [number, hash] = line.trim().split(/[:\s]+/)
  const head = KeptHead.safeParse({ number: number ? Number(number) : Number.NaN, hash: hash?.toLowerCase() })
  return (
    <section aria-labelledby="kept-head">
      <h2 id="kept-head" className="mb-2 text-xl font-semibold">
        {messages.papers.compareALineThatYou}
      </h2>
      <form
        onSubmit={(event) => {
          event.preventDefault()
          if (head.success) compare.mutate(head.data)
        }}
      >
        <label className="block">
          <span className="small-label block">{messages.papers.numberAndHash}</span>
          <input
            className="input input-sm w-full"
            value={line}
            spellCheck={false}
            onChange={(event) => {
              setLine(event.target.value)
              compare.reset()
            }}
          />
        </label>
        {line !== '' && !head.success && <p className="mt-1 text-sm">{messages.papers.aNumberAColonAnd}</p>}
        {compare.data && (
          <p role="status" className={`mt-2 ${compare.data.holds ? '' : 'font-semibold text-error'}`}>
            {compare.data.sentence}
          </p>
        )}
        {compare.error && (
          <p role="alert" className="mt-2 text-error">
            {compare.error.message}
          </p>
        )}
        <button type="submit" className="btn btn-sm mt-3" disabled={!head.success || compare.isPending}>
          {messages.common.compare}
        </button>
      </form>
    </section>
  )
}
