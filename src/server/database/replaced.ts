/** Version of the features of what a library has replaced since by another recording. */
export const REPLACED_VERSION = 0
