import type { FirstStep } from './first-steps'

export const FIRST_STEP_TITLES: Readonly<Record<FirstStep, string>> = {
  licensee: 'Say who holds the licences',
  library: 'Connect a library',
  film: 'Upload a finished video',
  result: 'See what is cleared',
}
