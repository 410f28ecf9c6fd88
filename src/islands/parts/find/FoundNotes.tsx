import type { SoundPage } from '../../../contract'
import { MAX_PARTS, parsedQuery } from '../../../core/finding'
import { counted } from '../../format/words'
import { type FindState, NOTHING_ASKED } from '../../state/find-state'
import { Empty } from '../shared/States'
import { EverythingHidden } from './FilterChips'

/** Words that stand nowhere, and what was taken for them. */
export function Corrections({ corrections }: Pick<SoundPage, 'corrections'>) {
  return (
    <p className="text-sm" data-testid="corrections">
      {corrections.map(({ typed: word, shown }) => (
        <span key={word} className="mr-3">
          Results for “{shown}” instead of “{word}”.
        </span>
      ))}
    </p>
  )
}

/** Conditions that were typed and say nothing, and words that are too many: they would be left out without a word. */
export function Unread({ text }: { text: string }) {
  const { unknown, leftOut } = parsedQuery(text)
  if (unknown.length === 0 && leftOut === 0) return null
  const none = unknown.length === 1 ? 'is no condition and does' : 'are no conditions and do'
  return (
    <p className="text-sm" role="status" data-testid="unread">
      {unknown.length > 0 &&
        `${unknown.map((one) => `[${one}]`).join(', ')} ${none} not count. Those that can be typed are in the help (?). `}
      {leftOut > 0 &&
        `The first ${MAX_PARTS} words count; ${counted(leftOut, 'word')} at the end ${leftOut === 1 ? 'does' : 'do'} not.`}
    </p>
  )
}

/** Why nothing is shown: the conditions hide it, or nothing matches. */
export function NothingFound(props: { first: SoundPage; state: FindState; onChange: (state: FindState) => void }) {
  const { first, state, onChange } = props
  const hidden = first.hides.some((one) => one.hidden > 0)
  if (hidden) return <EverythingHidden state={state} hides={first.hides} onChange={onChange} />
  return (
    <Empty
      title={state.text.trim() ? `No sound matches “${state.text.trim()}”` : 'There is nothing to compare with'}
      action={
        <button type="button" className="btn" onClick={() => onChange(NOTHING_ASKED)}>
          Show all {first.catalogueTotal} sounds
        </button>
      }
    >
      Every word has to be in the title, tags, category, folder, maker or description, or mean the same. Try fewer or
      shorter words.
    </Empty>
  )
}
