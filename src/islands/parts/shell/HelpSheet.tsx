import { useEffect, useRef } from 'react'
import { LINE_WORDS } from '../../format/line-words'

const KEYS: readonly (readonly [string, string])[] = [
  ['Ctrl K', 'go to a place, a video or a sound, or do something (⌘ K on a Mac)'],
  ['/', 'go to the search line'],
  ['↓ ↑', 'move through the results and hear each'],
  ['E', 'list all sounds (on Find, before anything is searched for)'],
  ['Home End', 'first and last result'],
  ['Space', 'stop, or go on listening'],
  ['← →', 'half a second back or on; finer with Shift'],
  ['J K L', 'back two seconds, stop, go on (again: faster)'],
  ['I O', 'a part begins here, ends here'],
  ['R X', 'loop the part, clear it'],
  ['M', 'in mono'],
  ['C', 'pin the sound, to compare'],
  ['1 – 6', 'hear a pinned sound (in Compare)'],
  ['S', 'keep the sound, or stop keeping it'],
  ['D', 'download the selected sound'],
  ['Enter', 'select the sound, to do something with several'],
  ['Esc', 'leave the results for the search line; close a dialog'],
  ['?', 'this sheet'],
]

/** Keys of the step in which moments are noted. */
const MOMENT_KEYS: readonly (readonly [string, string])[] = [
  ['N', 'note a moment, or the marked part'],
  ['Space', 'play the cut, or stop'],
  ['J K L', 'backwards, stop, forwards (again: faster)'],
  ['← →', 'one frame; ten with Shift'],
  ['↑ ↓', 'to the moment before, and after'],
  ['I O', 'a part begins here, ends here'],
  ['R X', 'loop the part, clear it'],
  [', .', 'move the chosen moment by a frame; < > by ten'],
  ['F', 'find sounds for the moment'],
  ['1 – 6', 'hear its short list in the cut'],
  ['A X', 'take a suggestion, put it aside'],
  ['Ctrl Z', 'undo; with Shift redo'],
  ['+ − 0', 'zoom the map, show the whole'],
]

/** Keys of the step in which sounds are placed. */
const PLACE_KEYS: readonly (readonly [string, string])[] = [
  ['Space', 'play the cut with what is placed, or stop'],
  ['J K L', 'backwards, stop, forwards (again: faster)'],
  ['← →', 'one frame; ten with Shift'],
  ['↑ ↓', 'to the placed sound before, and after; with Shift it is chosen too, * chooses all'],
  [', .', 'move the chosen sounds by a frame; < > by a millisecond'],
  ['[ ]', 'begin, end the chosen sound at the playhead'],
  ['( )', 'fade it in up to the playhead, out from the playhead'],
  ['P', 'add a point to its level at the playhead; Tab to it, arrows move it'],
  ['- =', 'softer, louder by 1 dB'],
  ['V', 'split the chosen sound at the playhead'],
  ['U', 'duplicate it'],
  ['H', 'line its hit up with its moment'],
  ['M', 'mute it, or hear it again'],
  ['A – F', 'swap it for one of the short list of its moment'],
  ['Delete', 'remove the chosen sounds'],
  ['I O R X', 'a part begins here, ends here; loop it; clear it'],
  ['Ctrl Z', 'undo; with Shift redo'],
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
            <KeyTable keys={KEYS} />
            <h2 className="mt-5 mb-3 text-xl font-semibold">While moments are noted</h2>
            <KeyTable keys={MOMENT_KEYS} />
            <h2 className="mt-5 mb-3 text-xl font-semibold">While sounds are placed</h2>
            <KeyTable keys={PLACE_KEYS} />
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

function KeyTable({ keys }: { keys: readonly (readonly [string, string])[] }) {
  return (
    <dl className="grid grid-cols-[6rem_1fr] gap-y-1.5">
      {keys.map(([key, what]) => (
        <div key={key} className="contents">
          <dt>
            <kbd className="kbd kbd-sm">{key}</kbd>
          </dt>
          <dd>{what}</dd>
        </div>
      ))}
    </dl>
  )
}
