/**
 * The context of an emptied canvas, as sharp as the screen: one unit is one pixel of the page.
 *
 * @returns Null where there is none to be had.
 */
export function sharpContext(
  canvas: HTMLCanvasElement,
  widthPx: number,
  heightPx: number,
): CanvasRenderingContext2D | null {
  const ratio = window.devicePixelRatio || 1
  const [wide, high] = [Math.round(widthPx * ratio), Math.round(heightPx * ratio)]
  if (canvas.width !== wide || canvas.height !== high) {
    canvas.width = wide
    canvas.height = high
  }
  const context = canvas.getContext('2d')
  context?.setTransform(ratio, 0, 0, ratio, 0, 0)
  context?.clearRect(0, 0, widthPx, heightPx)
  return context
}
