import type { PapersRow } from '../../../contract'
import { dayWords } from '../../format/words'

/** That papers are on record by someone's word alone. Nothing for papers that a library gave. */
export function OnTheWordOf({ declared }: { readonly declared: PapersRow['declared'] }) {
  if (!declared) return null
  return (
    <span data-testid="declared">
      On the word of {declared.by || 'the creator'}, {dayWords(declared.on)}.
    </span>
  )
}
