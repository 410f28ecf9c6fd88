import { Link, useLocation } from 'wouter'

const PARTS: readonly (readonly [string, string])[] = [
  ['/papers', 'Copies'],
  ['/papers/may-i', 'May I?'],
  ['/papers/terms', 'Terms'],
  ['/papers/orders', 'Orders'],
  ['/papers/ledger', 'Ledger'],
]

/** Heading of the place Papers with the ways into it. */
export function PapersNav({ children }: { children?: React.ReactNode }) {
  const [location] = useLocation()
  return (
    <div className="flex flex-wrap items-center gap-x-6 gap-y-2 px-4 pt-4 pb-3">
      <h1 className="text-2xl font-semibold">Papers</h1>
      <nav aria-label="Papers" className="flex gap-4">
        {PARTS.map(([href, name]) => {
          const here = href === '/papers' ? location === href : location.startsWith(href)
          return (
            <Link
              key={href}
              href={href}
              aria-current={here ? 'page' : undefined}
              className={`border-b-2 pb-0.5 ${here ? 'border-primary font-semibold' : 'border-transparent'}`}
            >
              {name}
            </Link>
          )
        })}
      </nav>
      {children}
    </div>
  )
}
