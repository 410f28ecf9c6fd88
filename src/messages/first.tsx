import type { ReactNode } from 'react'

/** The first steps. */
export const first = {
  couldNotBeChecked: (title: string) => `“${title}” could not be checked.`,
  theCheckWasStopped: 'The check was stopped.',
  seeWhy: 'See why',
  orChooseAnotherFile: (link: ReactNode) => <>{link}, or choose another file.</>,
  finishedVideoFile: 'Finished video file',
  chooseTheFile: 'Choose the file',
  orDropItHereIt: 'or drop it here. It stays on this machine.',
  advertsSponsorsMembersSale: '(adverts, sponsors, members, sale)',
  itEarns: (span: ReactNode) => <>It earns {span}</>,
  checkIt: 'Check it',
  whichSoundsAreHeardIn: 'Which sounds are heard in it, whether each may be used, and what is still owed.',
  seeTheResult: 'See the result',
  waitingToBeListenedTo: 'Waiting to be listened to',
  check: 'Check',
  firstStepsOfDoneNext: (count: ReactNode, count2: ReactNode, link: ReactNode) => (
    <>
      First steps: {count} of {count2} done. Next: {link}
    </>
  ),
  nameOfTheLicenceHolder: 'Name of the licence holder',
  yourNameOrYourChannel: 'Your name or your channel',
  sayWhoHoldsTheLicences: 'Say who holds the licences',
  uploadAFinishedVideo: 'Upload a finished video',
  seeWhatIsCleared: 'See what is cleared',
  result: 'result',
  openingTheFirstSteps: 'Opening the first steps',
  firstSteps: 'First steps',
  goodThudSearchesSeveralStock:
    'Good Thud searches several stock libraries at once, keeps the papers of what you download, and listens to your finished video to say whether every sound in it is cleared.',
  skipThis: 'Skip this',
  theseStepsStayAtFirst: 'These steps stay at “First steps” on the Desk until they are done.',
  done: 'Done',
  searchedWhileYouType: 'searched while you type',
  connectNamed: (name: string) => `Connect ${name}`,
  connectButton: 'Connect',
  starting: 'starting',
}
