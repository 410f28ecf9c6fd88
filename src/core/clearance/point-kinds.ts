/** Kinds of points that are not about the papers of one heard sound; the last two are about whether it is that sound. */
export const POINT_KINDS = [
  'nothing-listened-for',
  'unread-source',
  'list-grew',
  'not-listened-for',
  'known-in-part',
  'unfinished',
  'track',
  'undecoded',
  'opposed',
  'speech',
  'music',
  'noise',
  'event',
  'placed',
  'unsure',
  'which-copy',
] as const
export type PointKind = (typeof POINT_KINDS)[number]

/** Kinds that are about which sound it is: saying so settles them, and nothing is looked for. */
export const ABOUT_WHICH: readonly PointKind[] = ['unsure', 'which-copy']

/** Kinds of which each open point means that the file was examined only in part. */
export const UNEXAMINED: readonly PointKind[] = [
  'nothing-listened-for',
  'unread-source',
  'list-grew',
  'not-listened-for',
  'known-in-part',
  'unfinished',
  'track',
  'undecoded',
  'opposed',
]
