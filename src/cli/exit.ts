/** Exit statuses of the command line. */
export const EXIT = { done: 0, badInput: 1, usage: 2, partlyExamined: 3 } as const

/** The words of the command are off. */
export class UsageError extends Error {
  override readonly name = 'UsageError'
}

/** Something that was given cannot be used; the message is the one line that is printed. */
export class InputError extends Error {
  override readonly name = 'InputError'
}
