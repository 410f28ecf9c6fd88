import { messages } from '../../../messages'
import { CopyButton } from '../shared/CopyButton'

/** The text that must go into the description: only what is heard and owes a credit. */
export function Credits({ text }: { text: string }) {
  return (
    <section aria-label={messages.clearance.credits}>
      <h2 className="mb-1 text-2xl font-semibold">{messages.clearance.credits}</h2>
      {text === '' ? (
        <p className="quiet py-4">{messages.clearance.nothingThatWasHeardAnd}</p>
      ) : (
        <>
          <p className="quiet mb-2">{messages.clearance.putThisInThe}</p>
          <pre
            className="whitespace-pre-wrap break-words rounded border ruled bg-base-200 p-3 font-sans text-sm"
            data-testid="credits"
          >
            {text}
          </pre>
          <div className="mt-3">
            <CopyButton text={text} label={messages.clearance.copyTheCredits} primary />
          </div>
        </>
      )}
    </section>
  )
}
