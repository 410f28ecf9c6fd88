import { messages } from '../../../messages'
import type { FirstStep } from './first-steps'

export const FIRST_STEP_TITLES: Readonly<Record<FirstStep, string>> = {
  licensee: messages.first.sayWhoHoldsTheLicences,
  library: messages.common.connectALibrary,
  film: messages.first.uploadAFinishedVideo,
  result: messages.first.seeWhatIsCleared,
}
