import { messages } from '../../../messages'
import { LINE_WORDS } from '../../format/line-words'
import { DialogActions, DialogTitle, ModalDialog } from '../shared/ModalDialog'

const KEYS: readonly (readonly [string, string])[] = [
  ['Ctrl K', messages.shell.goToAPlaceA],
  ['/', messages.shell.goToTheSearchLine],
  ['↓ ↑', messages.shell.moveThroughTheResultsAnd],
  ['E', messages.shell.listAllSoundsOnFind],
  ['Home End', messages.shell.firstAndLastResult],
  ['Space', messages.shell.stopOrGoOnListening],
  ['← →', messages.shell.halfASecondBackOr],
  ['J K L', messages.shell.backTwoSecondsStopGo],
  ['I O', messages.shell.aPartBeginsHereEnds],
  ['R X', messages.shell.loopThePartClearIt],
  ['M', messages.shell.inMono],
  ['C', messages.shell.pinTheSoundToCompare],
  ['1 – 6', messages.shell.hearAPinnedSoundIn],
  ['S', messages.shell.keepTheSoundOrStop],
  ['D', messages.shell.downloadTheSelectedSound],
  ['Enter', messages.shell.selectTheSoundToDo],
  ['Esc', messages.shell.leaveTheResultsForThe],
  ['?', messages.shell.thisSheet],
]

/** Keys of the step in which moments are noted. */
const MOMENT_KEYS: readonly (readonly [string, string])[] = [
  ['N', messages.shell.noteAMomentOrThe],
  ['Space', messages.shell.playTheCutOrStop],
  ['J K L', messages.shell.backwardsStopForwardsAgainFaster],
  ['← →', messages.shell.oneFrameTenWithShift],
  ['↑ ↓', messages.shell.toTheMomentBeforeAnd],
  ['I O', messages.shell.aPartBeginsHereEnds],
  ['R X', messages.shell.loopThePartClearIt],
  [', .', messages.shell.moveTheChosenMomentBy],
  ['F', messages.shell.findSoundsForTheMoment],
  ['1 – 6', messages.shell.hearItsShortListIn],
  ['A X', messages.shell.takeASuggestionPutIt],
  ['Ctrl Z', messages.shell.undoWithShiftRedo],
  ['+ − 0', messages.shell.zoomTheMapShowThe],
]

/** Keys of the step in which sounds are placed. */
const PLACE_KEYS: readonly (readonly [string, string])[] = [
  ['Space', messages.shell.playTheCutWithWhat],
  ['J K L', messages.shell.backwardsStopForwardsAgainFaster],
  ['← →', messages.shell.oneFrameTenWithShift],
  ['↑ ↓', messages.shell.toThePlacedSoundBefore],
  [', .', messages.shell.moveTheChosenSoundsBy],
  ['[ ]', messages.shell.beginEndTheChosenSound],
  ['( )', messages.shell.fadeItInUpTo],
  ['P', messages.shell.addAPointToIts],
  ['- =', messages.shell.softerLouderBy1Db],
  ['V', messages.shell.splitTheChosenSoundAt],
  ['U', messages.shell.duplicateIt],
  ['H', messages.shell.lineItsHitUpWith],
  ['M', messages.shell.muteItOrHearIt],
  ['A – F', messages.shell.swapItForOneOf],
  ['Delete', messages.shell.removeTheChosenSounds],
  ['I O R X', messages.shell.aPartBeginsHereEndsHereLoop],
  ['Ctrl Z', messages.shell.undoWithShiftRedo],
]

/** The keys, and what can be typed into the search line, on one sheet. */
export function HelpSheet({ onClose }: { onClose: () => void }) {
  return (
    <ModalDialog className="max-w-5xl" isClosedBeside onClose={onClose}>
      <div className="grid grid-cols-2 gap-x-10 gap-y-6 max-md:grid-cols-1">
        <section>
          <DialogTitle>{messages.shell.keys}</DialogTitle>
          <KeyTable keys={KEYS} />
          <h2 className="mt-5 mb-3 text-xl font-semibold">{messages.shell.whileMomentsAreNoted}</h2>
          <KeyTable keys={MOMENT_KEYS} />
          <h2 className="mt-5 mb-3 text-xl font-semibold">{messages.shell.whileSoundsArePlaced}</h2>
          <KeyTable keys={PLACE_KEYS} />
        </section>
        <section>
          <h2 className="mb-4 text-2xl font-semibold">{messages.shell.inTheSearchLine}</h2>
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
      <DialogActions leaveBy="close" onLeave={onClose} />
    </ModalDialog>
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
