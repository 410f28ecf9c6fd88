/** The value below which so many percent of some numbers lie; 0 where there are none. */
export function percentile(values: readonly number[], percent: number): number {
  const sorted = [...values].sort((a, b) => a - b)
  return sorted[Math.min(sorted.length - 1, Math.floor((percent / 100) * sorted.length))] ?? 0
}
