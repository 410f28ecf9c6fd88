/** Rate at which hearing works, Hz: effects are told apart well below 8 kHz, and lossy codecs keep that range. */
export const HEARING_RATE_HZ = 16000
/** Whitening window and hop, frames. Measured: 512 loses tonal effects, 2048 gives more false peaks. */
export const WHITEN_SIZE = 1024
export const WHITEN_HOP = 512
/** Longest piece of a sound that is correlated at once, frames (1 s): longer ones break on the first trim. */
export const PIECE_MAX_FRAMES = 16000
/** At most this many pieces, the most energetic, are searched for each sound that is not long. */
export const PIECES_MAX = 5
/** A longer sound (music, an ambience) is seldom used as a whole: it has a piece in each stretch of so many pieces (3 s), wherever it is cut. */
export const LONG_S = 15
export const LONG_FRAMES = LONG_S * HEARING_RATE_HZ
export const STRETCH_PIECES = 3
/** At most so many stretches: of what is over ten minutes long they are longer. */
export const STRETCHES_MAX = 200
/** Overlap-save block, frames: the cheapest size for 1 s pieces. */
export const BLOCK_FRAMES = 65536
/** The correlation is summarised in chunks of this many frames (32 ms). */
export const CHUNK_FRAMES = 512
/** New correlation values a block: a whole number of chunks that leaves room for the longest piece. */
export const BLOCK_ADVANCE = 49152
/** Chunks that a block adds. */
export const BLOCK_CHUNKS = BLOCK_ADVANCE / CHUNK_FRAMES
/** A track is searched in windows of this many frames (two minutes): long enough to share the transforms of the sounds, short enough to keep little in memory. */
export const WINDOW_FRAMES = 39 * BLOCK_ADVANCE
/** Sounds shorter than this cannot be told from chance, s. */
export const SOUND_MIN_S = 0.12
/** A part shorter than this is not reported, s: shorter ones were found to be fitted too freely. */
export const PART_MIN_S = 0.15
