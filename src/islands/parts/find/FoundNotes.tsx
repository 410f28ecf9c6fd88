import type { SoundPage } from '../../../contract'
import { type Filter, filterWords, MAX_PARTS, parsedQuery } from '../../../core/finding'
import { messages } from '../../../messages'
import { EVERYTHING, type FindState, offersIn, taken } from '../../state/find-state'
import { Empty } from '../shared/States'
import { EverythingHidden } from './FilterChips'

/** Words that stand nowhere, and what was taken for them. */
export function Corrections({ corrections }: Pick<SoundPage, 'corrections'>) {
  return (
    <p className="text-sm" data-testid="corrections">
      {corrections.map(({ typed: word, shown }) => (
        <span key={word} className="mr-3">
          {messages.find.resultsForInsteadOf(shown, word)}
        </span>
      ))}
    </p>
  )
}

/** Conditions that were typed and say nothing, and words that are too many: they would be left out without a word. */
export function Unread({ text }: { text: string }) {
  const { unknown, leftOut } = parsedQuery(text)
  if (unknown.length === 0 && leftOut === 0) return null
  return (
    <p className="text-sm" role="status" data-testid="unread">
      {unknown.length > 0 && messages.find.noConditions(unknown.length, unknown.map((one) => `[${one}]`).join(', '))}
      {leftOut > 0 && messages.find.theFirstWordsCountAt(MAX_PARTS, leftOut)}
    </p>
  )
}

/** Conditions that were typed in plain words: they count once they are taken. */
export function Offered({ state, onChange }: { state: FindState; onChange: (state: FindState) => void }) {
  const offers = offersIn(state)
  if (offers.length === 0) return null
  return (
    <p className="flex flex-wrap items-center gap-1.5 text-sm" data-testid="offers">
      <span className="quiet">{messages.find.didYouMean}</span>
      {offers.map((offer, at) => (
        <button
          key={filterWords(offer.filter)}
          type="button"
          className="btn btn-xs border-dashed border-base-content"
          aria-label={messages.find.addTheFilter(filterWords(offer.filter))}
          onClick={() => onChange(taken(state, offer))}
        >
          {offeredWords(offer.filter)}?{at === 0 && <kbd className="kbd kbd-xs">{messages.find.enter}</kbd>}
        </button>
      ))}
    </p>
  )
}

function offeredWords(filter: Filter): string {
  return filter.kind === 'length' ? messages.find.length(filterWords(filter)) : filterWords(filter)
}

/** Why nothing is shown: the conditions hide it, or nothing matches. */
export function NothingFound(props: { first: SoundPage; state: FindState; onChange: (state: FindState) => void }) {
  const { first, state, onChange } = props
  const hidden = first.hides.some((one) => one.hidden > 0)
  if (hidden) return <EverythingHidden state={state} hides={first.hides} onChange={onChange} />
  return (
    <Empty
      title={
        state.text.trim() ? messages.find.noSoundMatches(state.text.trim()) : messages.find.thereIsNothingToCompare
      }
      action={
        <button type="button" className="btn" onClick={() => onChange(EVERYTHING)}>
          {messages.find.showAllSounds(first.catalogueTotal)}
        </button>
      }
    >
      {messages.find.everyWordHasToBe}
    </Empty>
  )
}
