import type { Reason } from './reasons'
import type { ClauseKey } from './terms'
import { CLAUSE_WORDS, USE_PLACE_WORDS, type Uses } from './uses'

/** Something that would settle an open point. */
export interface Settlement {
  readonly action:
    | 'give-credit'
    | 'set-date'
    | 'renew-plan'
    | 'same-licence'
    | 'bind-video'
    | 'meet-duty'
    | 'add-proof'
    | 'say-more'
    | 'answer-text'
    | 'ask-issuer'
    | 'narrow-uses'
    | 'other-terms'
    | 'take-offer'
    | 'replace'
  /** A sentence that starts with what to do. */
  readonly sentence: string
  /** The point that it settles; null when it settles all. */
  readonly key: ClauseKey | null
}

/** What would settle each point that bars or is not stated, each once. */
export function settlementsFor(barring: readonly Reason[], uses: Uses): Settlement[] {
  const all = barring.map((reason) => settlement(reason, uses))
  return all.filter(({ sentence }, index) => all.findIndex((other) => other.sentence === sentence) === index)
}

/** What would meet a share-alike licence. */
export const SAME_LICENCE = 'Publish the whole video under the same licence.'

export const REPLACE: Settlement = { action: 'replace', sentence: 'Replace the sound.', key: null }

function settlement({ key, effect, beside }: Reason, uses: Uses): Settlement {
  const make = (action: Settlement['action'], sentence: string): Settlement => ({ action, sentence, key })
  if (beside !== undefined) return make('answer-text', `Read ${beside} under Sources, and take it or put it away.`)
  if (key === 'duration')
    return uses.publishOn === null
      ? make('set-date', 'Set the publish date.')
      : make('renew-plan', 'Renew the plan and download it again.')
  if (key === 'share-alike')
    return effect === 'unstated'
      ? make('ask-issuer', 'Ask the library in writing whether the licence of the video is yours to choose.')
      : make('same-licence', SAME_LICENCE)
  if (key === 'earning') return make('ask-issuer', 'Ask the maker for a licence for a video that earns.')
  if (key === 'projects')
    return effect === 'unstated'
      ? make('bind-video', 'Put on record that this purchase is for the video that you ask for.')
      : make('other-terms', 'Buy it once more, for this video.')
  if (key === 'registration') return make('meet-duty', 'Register the video with the issuer, and put that on record.')
  if (key === 'proof') return make('add-proof', 'Attach the receipt to the papers.')
  if (effect === 'unstated' && key === 'audience') return make('say-more', 'Say how many people are expected.')
  if (effect === 'unstated' && key === 'seats') return make('say-more', 'Say how many people work on the video.')
  if (effect === 'unstated' && key === 'video-length') return make('say-more', 'Bring the finished video and check it.')
  if (effect === 'unstated' && key === 'platforms') return make('say-more', 'Say on which platforms it is published.')
  if (effect === 'unstated')
    return make('ask-issuer', `Ask the library in writing about ${CLAUSE_WORDS[key].toLowerCase()}.`)
  if (key === 'territory')
    return make('narrow-uses', 'Publish only where the terms hold, or get terms that hold there.')
  if (key in USE_PLACE_WORDS)
    return make('narrow-uses', `Publish without “${CLAUSE_WORDS[key]}”, or get terms that allow it.`)
  return make('other-terms', 'Get other terms for this sound.')
}
