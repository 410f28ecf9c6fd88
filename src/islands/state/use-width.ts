import { type RefObject, useEffect, useState } from 'react'

/** Width of an element in whole pixels, followed as it changes; at least `minPx`. */
export function useWidth(ref: RefObject<HTMLElement | null>, minPx: number): number {
  const [widthPx, setWidthPx] = useState(Math.max(minPx, 800))
  useEffect(() => {
    const element = ref.current
    if (!element) return
    const observer = new ResizeObserver(([entry]) =>
      setWidthPx(Math.max(minPx, Math.round(entry?.contentRect.width ?? 0))),
    )
    observer.observe(element)
    return () => observer.disconnect()
  }, [ref, minPx])
  return widthPx
}
