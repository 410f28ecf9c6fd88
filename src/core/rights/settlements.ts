import { rights as messages } from '../wording/rights'
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
export const SAME_LICENCE = messages.publishWholeVideoUnderSame

export const REPLACE: Settlement = { action: 'replace', sentence: messages.replaceTheSound, key: null }

function settlement({ key, effect, beside }: Reason, uses: Uses): Settlement {
  const make = (action: Settlement['action'], sentence: string): Settlement => ({ action, sentence, key })
  if (beside !== undefined) return make('answer-text', messages.readUnderSourcesAndTake(beside))
  if (key === 'duration')
    return uses.publishOn === null
      ? make('set-date', messages.setThePublishDate)
      : make('renew-plan', messages.renewPlanAndDownloadAgain)
  if (key === 'share-alike')
    return effect === 'unstated'
      ? make('ask-issuer', messages.askLibraryInWritingWhether)
      : make('same-licence', SAME_LICENCE)
  if (key === 'earning') return make('ask-issuer', messages.askMakerForLicenceFor)
  if (key === 'projects')
    return effect === 'unstated'
      ? make('bind-video', messages.putOnRecordThatThis)
      : make('other-terms', messages.buyOnceMoreForThis)
  if (key === 'registration') return make('meet-duty', messages.registerVideoWithIssuerAnd)
  if (key === 'proof') return make('add-proof', messages.attachReceiptPapers)
  if (effect === 'unstated' && key === 'audience') return make('say-more', messages.sayHowManyPeopleAre)
  if (effect === 'unstated' && key === 'seats') return make('say-more', messages.sayHowManyPeopleWork)
  if (effect === 'unstated' && key === 'video-length') return make('say-more', messages.bringFinishedVideoAndCheck)
  if (effect === 'unstated' && key === 'platforms') return make('say-more', messages.sayOnWhichPlatformsPublished)
  if (effect === 'unstated')
    return make('ask-issuer', messages.askLibraryInWritingAbout(CLAUSE_WORDS[key].toLowerCase()))
  if (key === 'territory') return make('narrow-uses', messages.publishOnlyWhereTermsHold)
  if (key in USE_PLACE_WORDS) return make('narrow-uses', messages.publishWithoutOrGetTerms(CLAUSE_WORDS[key]))
  return make('other-terms', messages.getOtherTermsForThis)
}
