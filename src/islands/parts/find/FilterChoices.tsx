import { useId } from 'react'
import type { SoundCounts } from '../../../contract'
import { COST_KINDS, type Filter } from '../../../core/finding'
import { messages } from '../../../messages'
import { toggled } from '../../state/find-state'

const COST_LABELS = {
  free: messages.find.free,
  plan: messages.find.inMyPlan,
  own: messages.find.myOwn,
  buy: messages.find.toBuy,
} as const

interface ChoicesProps<T extends string> {
  readonly title: string
  readonly rows: readonly { readonly value: T; readonly label: string; readonly count: number }[]
  readonly chosen: readonly T[]
  /** Null when none is chosen any more. */
  readonly onToggle: (values: T[] | null) => void
}

/** Several of a list, each with how many sounds there would be. */
export function Choices<T extends string>({ title, rows, chosen, onToggle }: ChoicesProps<T>) {
  return (
    <fieldset className="mb-2">
      <legend className="small-label">{title}</legend>
      {rows.length === 0 && <p className="quiet text-sm">{messages.find.noneAmongTheseResults}</p>}
      {rows.map(({ value, label, count }) => (
        <label key={value} className="flex cursor-pointer items-center gap-2 py-0.5">
          <input
            type="checkbox"
            className="checkbox checkbox-sm"
            checked={chosen.includes(value)}
            onChange={() => onToggle(toggled(chosen, value))}
          />
          <span className="flex-1 whitespace-nowrap">{label}</span>
          <Count count={count} />
        </label>
      ))}
    </fieldset>
  )
}

interface YesOrNoProps {
  readonly title: string
  readonly labels: readonly [string, string]
  /** Null where they are not counted. */
  readonly counts: readonly { readonly value: boolean; readonly count: number }[] | null | undefined
  readonly value: boolean | null
  readonly onChange: (value: boolean | null) => void
}

/** One, the other, or either. */
export function YesOrNo({ title, labels, counts, value, onChange }: YesOrNoProps) {
  const name = useId()
  const rows = [
    { answer: null, label: messages.find.either, count: null },
    ...([true, false] as const).map((answer) => ({
      answer,
      label: labels[answer ? 0 : 1],
      count: counts === null ? null : (counts?.find((one) => one.value === answer)?.count ?? 0),
    })),
  ]
  return (
    <fieldset className="mb-2">
      <legend className="small-label">{title}</legend>
      {rows.map(({ answer, label, count }) => (
        <label key={label} className="flex cursor-pointer items-center gap-2 py-0.5">
          <input
            type="radio"
            name={name}
            className="radio radio-sm"
            checked={value === answer}
            onChange={() => onChange(answer)}
          />
          <span className="flex-1 whitespace-nowrap">{label}</span>
          {count !== null && <Count count={count} />}
        </label>
      ))}
    </fieldset>
  )
}

/** What a sound may cost, with a price at most for those to buy. */
export function CostChoices(props: {
  counts: SoundCounts['cost']
  filter: Extract<Filter, { kind: 'cost' }> | null
  onChange: (filter: Filter | null) => void
}) {
  const { counts, filter, onChange } = props
  const set = (costs: readonly (typeof COST_KINDS)[number][] | null, upToMinor: number | null): void =>
    onChange(costs && { kind: 'cost', costs, upToMinor: costs.includes('buy') ? upToMinor : null })
  return (
    <>
      <Choices
        title={messages.find.cost}
        rows={COST_KINDS.map((cost) => ({
          value: cost,
          label: COST_LABELS[cost],
          count: counts?.find(({ value }) => value === cost)?.count ?? 0,
        }))}
        chosen={filter?.costs ?? []}
        onToggle={(costs) => set(costs, filter?.upToMinor ?? null)}
      />
      <label className="block text-sm">
        <span className="small-label block">{messages.find.toBuyUpTo}</span>
        <input
          type="number"
          min="0"
          step="0.5"
          className="input input-sm w-full"
          placeholder={messages.find.anyPrice}
          value={filter?.upToMinor == null ? '' : filter.upToMinor / 100}
          onChange={({ target }) => {
            const upToMinor = target.value === '' ? null : Math.round(Math.max(0, Number(target.value)) * 100)
            const costs = filter?.costs ?? []
            set(costs.includes('buy') ? costs : [...costs, 'buy'], upToMinor)
          }}
        />
      </label>
    </>
  )
}

function Count({ count }: { count: number }) {
  return <span className="quiet text-sm tabular-nums">{count.toLocaleString('en-GB')}</span>
}
