import type { LibraryTried } from '../../../contract/library-account'
import { dayWords, lengthWords } from '../../format/words'
import { Fact } from './Fact'

/** What a try of a library gave: its plan, its first sounds as they were understood, and what was not understood. */
export function Tried({ tried }: { tried: LibraryTried }) {
  const { plan, planUntil, total, sounds, preview, problems } = tried
  return (
    <section aria-label="What the library answered" className="mt-4 border-t ruled pt-4">
      {problems.length > 0 && (
        <div role="alert" className="mb-3">
          <p className="font-semibold text-error">
            {problems.length === 1
              ? 'One thing is not as it should be:'
              : `${problems.length} things are not as they should be:`}
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
        <Fact name="Account">
          {plan ?? 'not known'}
          {planUntil && `, until ${dayWords(planUntil)}`}
        </Fact>
        <Fact name="Sounds">{total === null ? 'not told' : total.toLocaleString('en-GB')}</Fact>
        <Fact name="Preview of the first">{preview ?? 'not to be had'}</Fact>
      </dl>
      {sounds.length > 0 && (
        <table className="table table-sm">
          <caption className="small-label pb-1 text-left">The first sounds, as they were understood</caption>
          <thead className="text-base-content">
            <tr>
              <th scope="col">Title</th>
              <th scope="col">Length</th>
              <th scope="col">Price</th>
              <th scope="col">Terms</th>
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
                <td className="whitespace-nowrap">{sound.lengthS > 0 ? lengthWords(sound.lengthS) : 'not read'}</td>
                <td>{sound.cost}</td>
                <td>{sound.terms ?? 'not read'}</td>
              </tr>
            ))}
          </tbody>
        </table>
      )}
    </section>
  )
}
