import { CopyButton } from '../shared/CopyButton'

/** The text that must go into the description: only what is heard and owes a credit. */
export function Credits({ text }: { text: string }) {
  return (
    <section aria-label="Credits">
      <h2 className="mb-1 text-2xl font-semibold">Credits</h2>
      {text === '' ? (
        <p className="quiet py-4">Nothing that was heard and has papers asks for a credit.</p>
      ) : (
        <>
          <p className="quiet mb-2">This has to stand in the description:</p>
          <pre
            className="whitespace-pre-wrap break-words rounded border ruled bg-base-200 p-3 font-sans text-sm"
            data-testid="credits"
          >
            {text}
          </pre>
          <div className="mt-3">
            <CopyButton text={text} label="Copy the credits" primary />
          </div>
        </>
      )}
    </section>
  )
}
