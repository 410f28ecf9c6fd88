/** Orders that results can be put in. */
export const SORTS = [
  'best',
  'newest',
  'most-used',
  'popular',
  'shortest',
  'longest',
  'name',
  'quietest',
  'loudest',
] as const
export type Sort = (typeof SORTS)[number]
