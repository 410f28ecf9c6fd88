import type { DetectionFacts } from '../../core/clearance'
import { coveredFraction, overlaps } from '../../core/time-range'

/** A find of the same recording that covers this much of another one is at its place. */
const SAME_PLACE = 0.5

/**
 * What is heard in a track once sounds that came later were searched together with those that were heard where they answered: of what is one
 * recording, or a relative of another, one find is reported and the others are named beside it, as in a check of all of them.
 *
 * @param known What was heard before. @param finds What the later sounds gave by themselves. @param settled What both gave together.
 * @param laterIds The sounds that came later, of those that were searched together.
 * @returns What was heard before, less what a later sound explains better; and the finds of later sounds.
 */
export function settledWithKnown(
  known: readonly DetectionFacts[],
  finds: readonly DetectionFacts[],
  settled: readonly DetectionFacts[],
  laterIds: ReadonlySet<number>,
): { readonly known: DetectionFacts[]; readonly finds: DetectionFacts[] } {
  const isOpen = (find: DetectionFacts): boolean =>
    laterIds.has(find.soundId) && known.some((one) => overlaps(one, find))
  const named = settled.filter(({ soundId, alternativeIds }) =>
    [soundId, ...alternativeIds].some((id) => laterIds.has(id)),
  )
  const replaced = new Set<DetectionFacts>()
  const more = new Map<DetectionFacts, number[]>()
  const fresh: DetectionFacts[] = []
  for (const find of named.filter((one) => known.some((other) => overlaps(other, one)))) {
    const { soundId, alternativeIds } = find
    const same = known.filter((one) => overlaps(one, find) && [soundId, ...alternativeIds].includes(one.soundId))
    if (laterIds.has(soundId)) {
      const gone = same.filter((one) => coveredFraction(one, [find]) >= SAME_PLACE)
      for (const one of gone) replaced.add(one)
      const others = [...alternativeIds, ...gone.flatMap((one) => [one.soundId, ...one.alternativeIds])]
      fresh.push({ ...find, alternativeIds: distinctBut(soundId, others) })
    } else {
      const own = same.find((one) => one.soundId === soundId)
      if (own) more.set(own, [...(more.get(own) ?? []), ...alternativeIds.filter((id) => laterIds.has(id))])
    }
  }
  return {
    known: known
      .filter((one) => !replaced.has(one))
      .map((one) => ({
        ...one,
        alternativeIds: distinctBut(one.soundId, [...one.alternativeIds, ...(more.get(one) ?? [])]),
      })),
    finds: [...finds.filter((find) => !isOpen(find)), ...fresh],
  }
}

function distinctBut(soundId: number, ids: readonly number[]): number[] {
  return [...new Set(ids)].filter((id) => id !== soundId)
}
