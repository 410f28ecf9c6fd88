import { useId } from 'react'
import type { SoundCounts } from '../../../contract'
import {
  COST_KINDS,
  COUNT_KINDS,
  type Filter,
  type FilterKind,
  filterWords,
  LENGTH_EDGES_S,
  TEMPO_EDGES_BPM,
} from '../../../core/finding'
import { useCounts } from '../../api/find-queries'
import { FIT_WORDS } from '../../format/words'
import { type FindState, filtered, toggled } from '../../state/find-state'
import { Menu } from '../shared/Menu'
import { BinRange } from './BinRange'

interface FilterMenusProps {
  readonly state: FindState
  readonly onChange: (state: FindState) => void
  readonly hasVideo: boolean
  readonly categories: SoundCounts['category']
}

/** Categories are counted with the results. */
const MENU_KINDS = COUNT_KINDS.filter((kind) => kind !== 'category')
const COST_LABELS = { free: 'Free', plan: 'In my plan', own: 'My own', buy: 'To buy' } as const
const TYPE_LABELS = { effect: 'Effects', ambience: 'Ambience', music: 'Music' } as const

/** The conditions, each behind a button of its own, with how many sounds there would be. */
export function FilterMenus({ state, onChange, hasVideo, categories }: FilterMenusProps) {
  const counts = useCounts(state, MENU_KINDS, true).data ?? {}
  const of = <K extends FilterKind>(kind: K) =>
    state.filters.find((filter): filter is Extract<Filter, { kind: K }> => filter.kind === kind) ?? null
  const set = (kind: FilterKind, filter: Filter | null): void => onChange(filtered(state, kind, filter))
  const any = (...kinds: FilterKind[]): boolean => kinds.some((kind) => of(kind) !== null)
  const length = of('length')
  const tempo = of('tempo')
  return (
    <section aria-label="Filters" className="flex flex-wrap items-center">
      <span className="xl:hidden">
        <Menu label="Category" active={any('category')}>
          {() => (
            <Choices
              title="Category"
              rows={(categories ?? []).map(({ value, count }) => ({ value: value.name, label: value.name, count }))}
              chosen={of('category')?.names ?? []}
              onToggle={(names) => set('category', names && { kind: 'category', names })}
            />
          )}
        </Menu>
      </span>
      <Menu label="Length" active={any('length')}>
        {() => (
          <BinRange
            name="Length"
            edges={LENGTH_EDGES_S}
            counts={counts.length ?? []}
            from={length?.fromS ?? null}
            to={length?.toS ?? null}
            words={(fromS, toS) => filterWords({ kind: 'length', fromS, toS })}
            onChange={(fromS, toS) =>
              set('length', fromS === null && toS === null ? null : { kind: 'length', fromS, toS })
            }
          />
        )}
      </Menu>
      <Menu label="Source" active={any('source')}>
        {() => (
          <Choices
            title="Source"
            rows={(counts.source ?? []).map(({ value, count }) => ({ value, label: value, count }))}
            chosen={of('source')?.names ?? []}
            onToggle={(names) => set('source', names && { kind: 'source', names })}
          />
        )}
      </Menu>
      <Menu label="Cost" active={any('cost')}>
        {() => <CostChoices counts={counts.cost} filter={of('cost')} onChange={(filter) => set('cost', filter)} />}
      </Menu>
      <Menu label="Licence" active={any('licence', 'credit')}>
        {() => (
          <>
            <Choices
              title="Licence"
              rows={(counts.licence ?? []).map(({ value, count }) => ({ value, label: value, count }))}
              chosen={of('licence')?.names ?? []}
              onToggle={(names) => set('licence', names && { kind: 'licence', names })}
            />
            <YesOrNo
              title="Credit"
              labels={['Owed', 'Not owed']}
              counts={counts.credit}
              value={of('credit')?.owed ?? null}
              onChange={(owed) => set('credit', owed === null ? null : { kind: 'credit', owed })}
            />
          </>
        )}
      </Menu>
      <Menu label="This video" active={any('fit')}>
        {() =>
          hasVideo ? (
            <Choices
              title="May it be used in the video in hand"
              rows={(Object.keys(FIT_WORDS) as (keyof typeof FIT_WORDS)[]).map((fit) => ({
                value: fit,
                label: FIT_WORDS[fit],
                count: counts.fit?.find(({ value }) => value === fit)?.count ?? 0,
              }))}
              chosen={of('fit')?.fits ?? []}
              onToggle={(fits) => set('fit', fits && { kind: 'fit', fits })}
            />
          ) : (
            <p className="w-56">
              Take a video in hand in the top bar: then sounds can be sorted out by what is allowed in it.
            </p>
          )
        }
      </Menu>
      <Menu label="Mine" active={any('here', 'kept', 'used')}>
        {() => (
          <>
            <YesOrNo
              title="A copy"
              labels={['Here already', 'Not here yet']}
              counts={counts.here}
              value={of('here')?.is ?? null}
              onChange={(is) => set('here', is === null ? null : { kind: 'here', is })}
            />
            <YesOrNo
              title="Shelf"
              labels={['Kept', 'Not kept']}
              counts={counts.kept}
              value={of('kept')?.is ?? null}
              onChange={(is) => set('kept', is === null ? null : { kind: 'kept', is })}
            />
            <YesOrNo
              title="In videos"
              labels={['Used before', 'Never used']}
              counts={counts.used}
              value={of('used')?.is ?? null}
              onChange={(is) => set('used', is === null ? null : { kind: 'used', is })}
            />
          </>
        )}
      </Menu>
      <Menu label="Sound" active={any('type', 'channels', 'loops', 'added')}>
        {() => (
          <>
            <Choices
              title="Kind"
              rows={(counts.type ?? []).map(({ value, count }) => ({ value, label: TYPE_LABELS[value], count }))}
              chosen={of('type')?.types ?? []}
              onToggle={(types) => set('type', types && { kind: 'type', types })}
            />
            <YesOrNo
              title="Channels"
              labels={['Stereo', 'Mono']}
              counts={counts.channels?.map(({ value, count }) => ({ value: value === 'stereo', count }))}
              value={of('channels')?.stereo ?? null}
              onChange={(stereo) => set('channels', stereo === null ? null : { kind: 'channels', stereo })}
            />
            <YesOrNo
              title="Loop"
              labels={['Loops', 'Does not loop']}
              counts={counts.loops}
              value={of('loops')?.is ?? null}
              onChange={(is) => set('loops', is === null ? null : { kind: 'loops', is })}
            />
            <label className="mt-2 block text-sm">
              <span className="small-label block">Added since</span>
              <input
                type="date"
                className="input input-sm w-full"
                value={of('added')?.since ?? ''}
                onChange={({ target }) => set('added', target.value ? { kind: 'added', since: target.value } : null)}
              />
            </label>
          </>
        )}
      </Menu>
      <Menu label="Music" active={any('tempo', 'mood', 'vocals')}>
        {() => (
          <>
            <BinRange
              name="Tempo"
              edges={TEMPO_EDGES_BPM}
              counts={counts.tempo ?? []}
              from={tempo?.fromBpm ?? null}
              to={tempo?.toBpm ?? null}
              words={(fromBpm, toBpm) => filterWords({ kind: 'tempo', fromBpm, toBpm })}
              onChange={(fromBpm, toBpm) =>
                set('tempo', fromBpm === null && toBpm === null ? null : { kind: 'tempo', fromBpm, toBpm })
              }
            />
            <Choices
              title="Mood"
              rows={(counts.mood ?? []).map(({ value, count }) => ({ value, label: value, count }))}
              chosen={of('mood')?.names ?? []}
              onToggle={(names) => set('mood', names && { kind: 'mood', names })}
            />
            <YesOrNo
              title="Vocals"
              labels={['With vocals', 'Without']}
              counts={counts.vocals}
              value={of('vocals')?.has ?? null}
              onChange={(has) => set('vocals', has === null ? null : { kind: 'vocals', has })}
            />
          </>
        )}
      </Menu>
    </section>
  )
}

interface ChoicesProps<T extends string> {
  readonly title: string
  readonly rows: readonly { readonly value: T; readonly label: string; readonly count: number }[]
  readonly chosen: readonly T[]
  /** Null when none is chosen any more. */
  readonly onToggle: (values: T[] | null) => void
}

function Choices<T extends string>({ title, rows, chosen, onToggle }: ChoicesProps<T>) {
  return (
    <fieldset className="mb-2">
      <legend className="small-label">{title}</legend>
      {rows.length === 0 && <p className="quiet text-sm">None among these results.</p>}
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
  readonly counts: readonly { readonly value: boolean; readonly count: number }[] | undefined
  readonly value: boolean | null
  readonly onChange: (value: boolean | null) => void
}

function YesOrNo({ title, labels, counts, value, onChange }: YesOrNoProps) {
  const name = useId()
  const rows = [
    { answer: null, label: 'Either', count: null },
    ...([true, false] as const).map((answer) => ({
      answer,
      label: labels[answer ? 0 : 1],
      count: counts?.find((one) => one.value === answer)?.count ?? 0,
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

function CostChoices(props: {
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
        title="Cost"
        rows={COST_KINDS.map((cost) => ({
          value: cost,
          label: COST_LABELS[cost],
          count: counts?.find(({ value }) => value === cost)?.count ?? 0,
        }))}
        chosen={filter?.costs ?? []}
        onToggle={(costs) => set(costs, filter?.upToMinor ?? null)}
      />
      <label className="block text-sm">
        <span className="small-label block">To buy, up to</span>
        <input
          type="number"
          min="0"
          step="0.5"
          className="input input-sm w-full"
          placeholder="any price"
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
