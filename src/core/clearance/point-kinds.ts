/** Kinds of points that are not about the papers of one heard sound. */
export const POINT_KINDS = [
  'nothing-listened-for',
  'list-grew',
  'not-listened-for',
  'unfinished',
  'track',
  'undecoded',
  'speech',
  'music',
  'noise',
  'event',
  'which-copy',
] as const
export type PointKind = (typeof POINT_KINDS)[number]

/** Kinds of which each open point means that the file was examined only in part. */
export const UNEXAMINED: readonly PointKind[] = [
  'nothing-listened-for',
  'list-grew',
  'not-listened-for',
  'unfinished',
  'track',
  'undecoded',
]
