interface Picture {
  readonly canvas: OffscreenCanvas
  readonly context: OffscreenCanvasRenderingContext2D
  readonly image: ImageData
  /** Its pixels as whole numbers. */
  readonly pixels: Uint32Array
}

/** One for each size that is drawn. */
const pictures = new Map<string, Picture>()
const PICTURES_MAX = 8
/** Colours of styles as pixels. */
const packed = new Map<string, number>()

/**
 * Draws the columns of a waveform as one picture: as hundreds of rectangles they take several times as long, and the map is zoomed sixty times a
 * second.
 *
 * @param columns Lowest and highest of each pixel, -1 to 1. @param y Of the upper edge. @param halfPx From the middle to full scale.
 */
export function drawColumns(
  target: CanvasRenderingContext2D,
  columns: Float32Array,
  {
    widthPx,
    y,
    heightPx,
    halfPx,
    colour,
  }: {
    readonly widthPx: number
    readonly y: number
    readonly heightPx: number
    readonly halfPx: number
    readonly colour: string
  },
): void {
  // As sharp as the screen.
  const ratio = target.getTransform().a
  const [wide, high] = [Math.round(widthPx * ratio), Math.round(heightPx * ratio)]
  const picture = pictureOf(wide, high)
  const pixel = pixelOf(colour)
  if (!picture || pixel === null) return
  const { pixels } = picture
  pixels.fill(0)
  const middle = high / 2
  for (let x = 0; x < wide; x++) {
    const column = Math.min(columns.length / 2 - 1, Math.floor(x / ratio))
    const top = Math.max(0, Math.round(middle - ratio * (halfPx * (columns[2 * column + 1] as number) + 0.5)))
    const bottom = Math.min(
      high,
      Math.max(top + 1, Math.round(middle - ratio * (halfPx * (columns[2 * column] as number) - 0.5))),
    )
    for (let at = top * wide + x; at < bottom * wide; at += wide) pixels[at] = pixel
  }
  picture.context.putImageData(picture.image, 0, 0)
  target.drawImage(picture.canvas, 0, y, widthPx, heightPx)
}

function pictureOf(wide: number, high: number): Picture | null {
  const key = `${wide} ${high}`
  const known = pictures.get(key)
  if (known) return known
  if (wide < 1 || high < 1) return null
  const canvas = new OffscreenCanvas(wide, high)
  const context = canvas.getContext('2d', { willReadFrequently: true })
  if (!context) return null
  const image = context.createImageData(wide, high)
  const made = { canvas, context, image, pixels: new Uint32Array(image.data.buffer) }
  if (pictures.size >= PICTURES_MAX) pictures.clear()
  pictures.set(key, made)
  return made
}

/** A colour as a pixel, in the order of bytes that this machine has; null where the browser does not know it. */
function pixelOf(colour: string): number | null {
  const known = packed.get(colour)
  if (known !== undefined) return known
  const context = new OffscreenCanvas(1, 1).getContext('2d', { willReadFrequently: true })
  if (!context) return null
  context.fillStyle = colour
  context.fillRect(0, 0, 1, 1)
  const pixel = new Uint32Array(context.getImageData(0, 0, 1, 1).data.buffer)[0] as number
  packed.set(colour, pixel)
  return pixel
}
