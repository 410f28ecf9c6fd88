import { useEffect, useRef } from 'react'
import { LINE_WORDS } from '../../format/line-words'

const KEYS: readonly (readonly [string, string])[] = [
  ['/', 'go to the search line'],
  ['↓ ↑', 'move through the results and hear each'],
  ['Home End', 'first and last result'],
  ['Space', 'stop, or go on listening'],
  ['← →', 'half a second back or on; finer with Shift'],
  ['J K L', 'back two seconds, stop, go on (again: faster)'],
  ['I O', 'a part begins here, ends here'],
  ['R X', 'loop the part, forget it'],
  ['M', 'in mono'],
  ['C', 'pin the sound, to compare'],
  ['1 – 6', 'hear a pinned sound (in Compare)'],
  ['S', 'keep the sound, or let it go'],
  ['D', 'download the selected sound'],
  ['Enter', 'pick up the sound, to do something with several'],
  ['Esc', 'leave the results for the search line; close a dialog'],
  ['?', 'this sheet'],
]

/** The keys, and what can be typed into the search line, on one sheet. */
export function HelpSheet({ onClose }: { onClose: () => void }) {
  const ref = useRef<HTMLDialogElement>(null)
  useEffect(() => ref.current?.showModal(), [])
  return (
    <dialog ref={ref} className="modal" aria-labelledby="help-title" onClose={onClose}>
      <div className="modal-box max-w-5xl border ruled">
        <div className="grid grid-cols-2 gap-x-10 gap-y-6 max-md:grid-cols-1">
          <section>
            <h2 id="help-title" className="mb-4 text-2xl font-semibold">
              Keys
            </h2>
            <dl className="grid grid-cols-[6rem_1fr] gap-y-1.5">
              {KEYS.map(([key, what]) => (
                <div key={key} className="contents">
                  <dt>
                    <kbd className="kbd kbd-sm">{key}</kbd>
                  </dt>
                  <dd>{what}</dd>
                </div>
              ))}
            </dl>
          </section>
          <section>
            <h2 className="mb-4 text-2xl font-semibold">In the search line</h2>
            <dl className="space-y-1.5">
              {LINE_WORDS.map(([examples, meaning]) => (
                <div key={meaning}>
                  <dt className="flex flex-wrap gap-x-3 font-semibold">
                    {examples.map((example) => (
                      <span key={example}>{example}</span>
                    ))}
                  </dt>
                  <dd className="quiet text-sm">{meaning}</dd>
                </div>
              ))}
            </dl>
          </section>
        </div>
        <div className="modal-action">
          <button type="button" className="btn" onClick={() => ref.current?.close()}>
            Close
          </button>
        </div>
      </div>
    </dialog>
  )
}
