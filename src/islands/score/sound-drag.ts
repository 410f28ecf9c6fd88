/** The kind of data by which a dragged sound tells its id, also from one window of the application to another. */
export const SOUND_DRAG_TYPE = 'application/x-good-thud-sound'
