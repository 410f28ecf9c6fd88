/** Size of the grey pictures that are looked at, and of the cells that each is divided into. */
export const PICTURE_WIDTH = 160
export const PICTURE_HEIGHT = 90
export const CELL_PX = 10
export const CELL_COLUMNS = PICTURE_WIDTH / CELL_PX
export const CELL_ROWS = PICTURE_HEIGHT / CELL_PX
export const CELLS = CELL_COLUMNS * CELL_ROWS
export const PICTURE_BYTES = PICTURE_WIDTH * PICTURE_HEIGHT

/** A difference of two neighbouring pixels from which on it is an edge, of 255. */
const EDGE_STEP = 24

/** Smaller differences are grain and not movement, of 255. */
const GRAIN = 6

/** What is kept of each frame of a cut. One entry, or one row of {@link CELLS}, a frame. */
export interface FrameMeasures {
  readonly count: number
  /** When each frame is shown, s. */
  readonly timesS: Float64Array
  /** Mean brightness, 0 to 1. */
  readonly luma: Float32Array
  /** Mean difference to the frame before, less the grain, 0 to 1; 0 for the first. */
  readonly motion: Float32Array
  /** Brightness of each cell, 0 to 255. */
  readonly cells: Uint8Array
  /** Share of pixels of each cell that lie on an edge, 0 to 255. */
  readonly edges: Uint8Array
}

const GROW_FRAMES = 4096

/** Measures frames one after the other. */
export class FrameMeter {
  private count = 0
  private timesS = new Float64Array(GROW_FRAMES)
  private luma = new Float32Array(GROW_FRAMES)
  private motion = new Float32Array(GROW_FRAMES)
  private cells = new Uint8Array(GROW_FRAMES * CELLS)
  private edges = new Uint8Array(GROW_FRAMES * CELLS)
  private readonly last = new Uint8Array(PICTURE_BYTES)

  /**
   * Takes the next frame.
   *
   * @param grey {@link PICTURE_WIDTH} by {@link PICTURE_HEIGHT} bytes, row by row. Not held on to. @param timeS When it is shown, s.
   */
  push(grey: Uint8Array, timeS: number): void {
    if (this.count === this.timesS.length) this.grow()
    const at = this.count++
    let sum = 0
    let difference = 0
    for (let i = 0; i < PICTURE_BYTES; i++) {
      const value = grey[i] as number
      sum += value
      difference += Math.max(0, Math.abs(value - (this.last[i] as number)) - GRAIN)
    }
    this.timesS[at] = timeS
    this.luma[at] = sum / PICTURE_BYTES / 255
    this.motion[at] = at === 0 ? 0 : difference / PICTURE_BYTES / (255 - GRAIN)
    this.measureCells(grey, at)
    this.last.set(grey)
  }

  result(): FrameMeasures {
    const { count } = this
    return {
      count,
      timesS: this.timesS.slice(0, count),
      luma: this.luma.slice(0, count),
      motion: this.motion.slice(0, count),
      cells: this.cells.slice(0, count * CELLS),
      edges: this.edges.slice(0, count * CELLS),
    }
  }

  private measureCells(grey: Uint8Array, at: number): void {
    for (let row = 0, cell = at * CELLS; row < CELL_ROWS; row++)
      for (let column = 0; column < CELL_COLUMNS; column++, cell++) {
        let sum = 0
        let edges = 0
        for (let y = row * CELL_PX; y < (row + 1) * CELL_PX; y++)
          for (let x = column * CELL_PX, i = y * PICTURE_WIDTH + x; x < (column + 1) * CELL_PX; x++, i++) {
            const value = grey[i] as number
            sum += value
            if (
              (x > 0 && Math.abs(value - (grey[i - 1] as number)) > EDGE_STEP) ||
              (y > 0 && Math.abs(value - (grey[i - PICTURE_WIDTH] as number)) > EDGE_STEP)
            )
              edges++
          }
        this.cells[cell] = Math.round(sum / (CELL_PX * CELL_PX))
        this.edges[cell] = Math.round((255 * edges) / (CELL_PX * CELL_PX))
      }
  }

  private grow(): void {
    const length = 2 * this.timesS.length
    const grown = <T extends Float64Array | Float32Array | Uint8Array>(into: T, from: T): T => {
      into.set(from)
      return into
    }
    this.timesS = grown(new Float64Array(length), this.timesS)
    this.luma = grown(new Float32Array(length), this.luma)
    this.motion = grown(new Float32Array(length), this.motion)
    this.cells = grown(new Uint8Array(length * CELLS), this.cells)
    this.edges = grown(new Uint8Array(length * CELLS), this.edges)
  }
}

/** Mean difference of the cells of two frames, 0 to 1. */
export function cellDistance({ cells }: FrameMeasures, a: number, b: number): number {
  let sum = 0
  for (let i = a * CELLS, j = b * CELLS, n = 0; n < CELLS; n++)
    sum += Math.abs((cells[i++] as number) - (cells[j++] as number))
  return sum / CELLS / 255
}

/** The frame that is shown at a time: the last that begins no later. @returns Its number, 0 before the first. */
export function frameIndexAt({ timesS, count }: Pick<FrameMeasures, 'timesS' | 'count'>, timeS: number): number {
  let low = 0
  let high = count - 1
  while (low < high) {
    const middle = (low + high + 1) >> 1
    if ((timesS[middle] as number) <= timeS) low = middle
    else high = middle - 1
  }
  return Math.max(0, low)
}
