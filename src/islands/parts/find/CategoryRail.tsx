import type { SoundCounts } from '../../../contract'
import { CATEGORY_GROUPS } from '../../../core/finding'
import { messages } from '../../../messages'

interface CategoryRailProps {
  readonly counts: SoundCounts['category']
  readonly chosen: readonly string[]
  readonly onChoose: (names: readonly string[]) => void
}

/** The categories in two levels with how many sounds there are, to look around without typing. */
export function CategoryRail({ counts, chosen, onChoose }: CategoryRailProps) {
  const groups = CATEGORY_GROUPS.map((group) => {
    const names = (counts ?? []).filter(({ value }) => value.group === group)
    return { group, names, count: names.reduce((sum, { count }) => sum + count, 0) }
  }).filter(({ count, group }) => count > 0 || chosen.includes(group))
  const total = groups.reduce((sum, { count }) => sum + count, 0)
  return (
    <nav
      aria-label={messages.find.categories}
      className="min-h-0 overflow-y-auto border-r ruled bg-base-200 py-3 text-sm max-xl:hidden"
    >
      <h2 className="small-label mb-1 px-3">{messages.find.categories}</h2>
      <Row label={messages.common.all} count={total} chosen={chosen.length === 0} onClick={() => onChoose([])} />
      {groups.map(({ group, names, count }) => (
        <div key={group}>
          <Row
            label={group}
            count={count}
            chosen={chosen.includes(group)}
            strong
            onClick={() => onChoose(chosen.includes(group) ? [] : [group])}
          />
          {(names.length > 1 || names[0]?.value.name !== group) &&
            names.map(({ value, count: own }) => (
              <Row
                key={value.name}
                label={value.name}
                count={own}
                chosen={chosen.includes(value.name)}
                inner
                onClick={() => onChoose(chosen.includes(value.name) ? [] : [value.name])}
              />
            ))}
        </div>
      ))}
    </nav>
  )
}

interface RowProps {
  readonly label: string
  readonly count: number
  readonly chosen: boolean
  readonly strong?: boolean
  readonly inner?: boolean
  readonly onClick: () => void
}

function Row({ label, count, chosen, strong = false, inner = false, onClick }: RowProps) {
  return (
    <button
      type="button"
      aria-pressed={chosen}
      className={`flex w-full items-baseline gap-2 py-1 pr-3 text-left leading-tight ${inner ? 'pl-6' : 'pl-3'} ${strong ? 'font-semibold' : ''} ${chosen ? 'bg-base-300 shadow-[inset_4px_0_0_var(--color-primary)]' : 'hover:bg-base-300'}`}
      onClick={onClick}
    >
      <span className="min-w-0 flex-1 break-words">{label}</span>
      <span className={`tabular-nums ${chosen ? '' : 'quiet'}`}>{count.toLocaleString('en-GB')}</span>
    </button>
  )
}
