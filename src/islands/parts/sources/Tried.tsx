import type { LibraryTried } from '../../../contract/library-account'
import { messages } from '../../../messages'
import { dayWords, lengthWords } from '../../format/words'
import { Fact } from './Fact'

/** What a try of a library gave: its plan, its first sounds as they were understood, and what was not understood. */
export function Tried({ tried }: { tried: LibraryTried }) {
  const { plan, planUntil, total, sounds, preview, problems } = tried
  return (
    <section aria-label={messages.sources.whatTheLibraryAnswered} className="mt-4 border-t ruled pt-4">
      {problems.length > 0 && (
        <div role="alert" className="mb-3">
          <p className="font-semibold text-error">
            {problems.length === 1
              ? messages.sources.oneThingIsNotAs
              : messages.sources.thingsAreNotAsThey(problems.length)}
          </p>
          <ul className="mt-1 space-y-1 text-sm">
            {problems.map(({ field, message }) => (
              <li key={field} className="break-words">
                <span className="font-semibold">{field}</span>: {message}
              </li>
            ))}
          </ul>
        </div>
      )}
      <dl className="mb-3 flex flex-wrap gap-x-8 gap-y-1 text-sm">
        <Fact name={messages.sources.account}>
          {plan ?? messages.sources.notKnown}
          {planUntil && messages.sources.until(dayWords(planUntil))}
        </Fact>
        <Fact name={messages.common.sounds}>
          {total === null ? messages.sources.notTold : total.toLocaleString('en-GB')}
        </Fact>
        <Fact name={messages.sources.previewOfTheFirst}>{preview ?? messages.sources.notAvailable}</Fact>
      </dl>
      {sounds.length > 0 && (
        <table className="table table-sm">
          <caption className="small-label pb-1 text-left">{messages.sources.theFirstSoundsAsThey}</caption>
          <thead className="text-base-content">
            <tr>
              <th scope="col">{messages.common.title}</th>
              <th scope="col">{messages.common.length}</th>
              <th scope="col">{messages.sources.price}</th>
              <th scope="col">{messages.common.terms}</th>
            </tr>
          </thead>
          <tbody>
            {sounds.map((sound, index) => (
              // biome-ignore lint/suspicious/noArrayIndexKey: two may have the same title, and the list never changes.
              <tr key={index}>
                <td>
                  <span className="block break-words">{sound.title}</span>
                  <span className="quiet">{[sound.maker, sound.category, sound.kind].filter(Boolean).join(' · ')}</span>
                </td>
                <td className="whitespace-nowrap">
                  {sound.lengthS > 0 ? lengthWords(sound.lengthS) : messages.sources.notRead}
                </td>
                <td>{sound.cost}</td>
                <td>{sound.terms ?? messages.sources.notRead}</td>
              </tr>
            ))}
          </tbody>
        </table>
      )}
    </section>
  )
}
