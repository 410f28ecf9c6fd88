import type { PapersRow } from '../../../contract'
import { messages } from '../../../messages'
import { dayWords } from '../../format/words'

/** That papers are on record by someone's word alone. Nothing for papers that a library gave. */
export function OnTheWordOf({ declared }: { readonly declared: PapersRow['declared'] }) {
  if (!declared) return null
  return (
    <span data-testid="declared">
      {messages.shared.onTheWordOf(declared.by || messages.shared.theCreator, dayWords(declared.on))}
    </span>
  )
}
