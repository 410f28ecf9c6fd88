/** What is done between two pieces of long work on a catalogue: others are let in. @throws When the work is stopped. */
export type Between = () => Promise<void>
