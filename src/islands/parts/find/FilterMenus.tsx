import type { SoundCounts } from '../../../contract'
import {
  COUNT_KINDS,
  type Filter,
  type FilterKind,
  filterWords,
  LENGTH_EDGES_S,
  TEMPO_EDGES_BPM,
} from '../../../core/finding'
import { messages } from '../../../messages'
import { useCounts } from '../../api/find-queries'
import { FIT_WORDS } from '../../format/words'
import { type FindState, filtered } from '../../state/find-state'
import { Menu } from '../shared/Menu'
import { BinRange } from './BinRange'
import { Choices, CostChoices, YesOrNo } from './FilterChoices'

interface FilterMenusProps {
  readonly state: FindState
  readonly onChange: (state: FindState) => void
  readonly hasVideo: boolean
  readonly categories: SoundCounts['category']
}

/** Categories are counted with the results. */
const MENU_KINDS = COUNT_KINDS.filter((kind) => kind !== 'category')
const TYPE_LABELS = {
  effect: messages.find.effects,
  ambience: messages.find.ambience,
  music: messages.common.music,
} as const

/** The conditions, each behind a button of its own, with how many sounds there would be. */
export function FilterMenus({ state, onChange, hasVideo, categories }: FilterMenusProps) {
  const menu = conditionsOf(state, useCounts(state, MENU_KINDS, true).data ?? {}, onChange)
  const { counts, of, set, any } = menu
  return (
    <section aria-label={messages.find.filters} className="flex flex-wrap items-center">
      <span className="xl:hidden">
        <Menu label={messages.find.category} active={any('category')}>
          {() => (
            <Choices
              title={messages.find.category}
              rows={(categories ?? []).map(({ value, count }) => ({ value: value.name, label: value.name, count }))}
              chosen={of('category')?.names ?? []}
              onToggle={(names) => set('category', names && { kind: 'category', names })}
            />
          )}
        </Menu>
      </span>
      <WordsMenu {...menu} />
      <LengthMenu {...menu} />
      <Menu label={messages.find.source} active={any('source')}>
        {() => (
          <Choices
            title={messages.find.source}
            rows={(counts.source ?? []).map(({ value, count }) => ({ value, label: value, count }))}
            chosen={of('source')?.names ?? []}
            onToggle={(names) => set('source', names && { kind: 'source', names })}
          />
        )}
      </Menu>
      <Menu label={messages.find.cost} active={any('cost')}>
        {() => <CostChoices counts={counts.cost} filter={of('cost')} onChange={(filter) => set('cost', filter)} />}
      </Menu>
      <LicenceMenu {...menu} />
      <Menu label={messages.find.thisVideo} active={any('fit')}>
        {() =>
          hasVideo ? (
            <Choices
              title={messages.find.mayItBeUsedIn}
              rows={(Object.keys(FIT_WORDS) as (keyof typeof FIT_WORDS)[]).map((fit) => ({
                value: fit,
                label: FIT_WORDS[fit],
                count: counts.fit?.find(({ value }) => value === fit)?.count ?? 0,
              }))}
              chosen={of('fit')?.fits ?? []}
              onToggle={(fits) => set('fit', fits && { kind: 'fit', fits })}
            />
          ) : (
            <p className="w-56">{messages.find.takeAVideoInHand}</p>
          )
        }
      </Menu>
      <MineMenu {...menu} />
      <SoundMenu {...menu} />
      <MusicMenu {...menu} />
    </section>
  )
}

type Conditions = ReturnType<typeof conditionsOf>

/** The conditions that are set, how to set one, and how many sounds each choice would leave. */
function conditionsOf(state: FindState, counts: Partial<SoundCounts>, onChange: (state: FindState) => void) {
  const of = <K extends FilterKind>(kind: K) =>
    state.filters.find((filter): filter is Extract<Filter, { kind: K }> => filter.kind === kind) ?? null
  const set = (kind: FilterKind, filter: Filter | null): void => onChange(filtered(state, kind, filter))
  const any = (...kinds: FilterKind[]): boolean => kinds.some((kind) => of(kind) !== null)
  return { counts, of, set, any }
}

function WordsMenu({ of, set, any }: Conditions) {
  const where = of('words-in')
  return (
    <Menu label={messages.find.words} active={any('words-in')}>
      {() => (
        <YesOrNo
          title={messages.find.lookForTheWordsIn}
          labels={[messages.find.titlesOnly, messages.find.descriptionsOnly]}
          counts={null}
          value={where === null ? null : where.texts === 'titles'}
          onChange={(titles) =>
            set('words-in', titles === null ? null : { kind: 'words-in', texts: titles ? 'titles' : 'descriptions' })
          }
        />
      )}
    </Menu>
  )
}

function LengthMenu({ counts, set, any, of }: Conditions) {
  const length = of('length')
  return (
    <Menu label={messages.common.length} active={any('length')}>
      {() => (
        <BinRange
          name={messages.common.length}
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
  )
}

function LicenceMenu({ counts, of, set, any }: Conditions) {
  return (
    <Menu label={messages.find.licence} active={any('licence', 'credit')}>
      {() => (
        <>
          <Choices
            title={messages.find.licence}
            rows={(counts.licence ?? []).map(({ value, count }) => ({ value, label: value, count }))}
            chosen={of('licence')?.names ?? []}
            onToggle={(names) => set('licence', names && { kind: 'licence', names })}
          />
          <YesOrNo
            title={messages.find.credit}
            labels={[messages.find.owed, messages.find.notOwed]}
            counts={counts.credit}
            value={of('credit')?.owed ?? null}
            onChange={(owed) => set('credit', owed === null ? null : { kind: 'credit', owed })}
          />
        </>
      )}
    </Menu>
  )
}

function MineMenu({ counts, of, set, any }: Conditions) {
  return (
    <Menu label={messages.find.mine} active={any('here', 'kept', 'used')}>
      {() => (
        <>
          <YesOrNo
            title={messages.find.aCopy}
            labels={[messages.find.hereAlready, messages.find.notHereYet]}
            counts={counts.here}
            value={of('here')?.is ?? null}
            onChange={(is) => set('here', is === null ? null : { kind: 'here', is })}
          />
          <YesOrNo
            title={messages.common.shelf}
            labels={[messages.common.kept, messages.find.notKept]}
            counts={counts.kept}
            value={of('kept')?.is ?? null}
            onChange={(is) => set('kept', is === null ? null : { kind: 'kept', is })}
          />
          <YesOrNo
            title={messages.find.inVideos}
            labels={[messages.find.usedBefore, messages.find.neverUsed]}
            counts={counts.used}
            value={of('used')?.is ?? null}
            onChange={(is) => set('used', is === null ? null : { kind: 'used', is })}
          />
        </>
      )}
    </Menu>
  )
}

function SoundMenu({ counts, of, set, any }: Conditions) {
  return (
    <Menu label={messages.common.sound} active={any('type', 'channels', 'loops', 'added')}>
      {() => (
        <>
          <Choices
            title={messages.common.kind}
            rows={(counts.type ?? []).map(({ value, count }) => ({ value, label: TYPE_LABELS[value], count }))}
            chosen={of('type')?.types ?? []}
            onToggle={(types) => set('type', types && { kind: 'type', types })}
          />
          <YesOrNo
            title={messages.find.channels}
            labels={[messages.find.stereo, messages.find.mono]}
            counts={counts.channels?.map(({ value, count }) => ({ value: value === 'stereo', count }))}
            value={of('channels')?.stereo ?? null}
            onChange={(stereo) => set('channels', stereo === null ? null : { kind: 'channels', stereo })}
          />
          <YesOrNo
            title={messages.find.loop}
            labels={[messages.find.loops, messages.find.doesNotLoop]}
            counts={counts.loops}
            value={of('loops')?.is ?? null}
            onChange={(is) => set('loops', is === null ? null : { kind: 'loops', is })}
          />
          <label className="mt-2 block text-sm">
            <span className="small-label block">{messages.find.addedSince}</span>
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
  )
}

function MusicMenu({ counts, of, set, any }: Conditions) {
  const tempo = of('tempo')
  return (
    <Menu label={messages.common.music} active={any('tempo', 'mood', 'vocals')}>
      {() => (
        <>
          <BinRange
            name={messages.find.tempo}
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
            title={messages.find.mood}
            rows={(counts.mood ?? []).map(({ value, count }) => ({ value, label: value, count }))}
            chosen={of('mood')?.names ?? []}
            onToggle={(names) => set('mood', names && { kind: 'mood', names })}
          />
          <YesOrNo
            title={messages.find.vocals}
            labels={[messages.find.withVocals, messages.find.without]}
            counts={counts.vocals}
            value={of('vocals')?.has ?? null}
            onChange={(has) => set('vocals', has === null ? null : { kind: 'vocals', has })}
          />
        </>
      )}
    </Menu>
  )
}
