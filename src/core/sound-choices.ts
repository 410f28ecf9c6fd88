/** What a library offers of one entry beside the whole: one of its tracks, a part of it, or another cut of it. */
export const CHOICE_ROLES = ['stem', 'part', 'version'] as const
export type ChoiceRole = (typeof CHOICE_ROLES)[number]

/** What one choice is of its entry. */
export interface Choice {
  readonly role: ChoiceRole
  /** As its library calls it: "drums", "loop", "30 seconds". */
  readonly name: string
}

/** Title under which a choice is taken, filed and credited: papers name what was taken. */
export function choiceTitle(entryTitle: string, { role, name }: Choice): string {
  return `${entryTitle} (${role}: ${name})`
}

/** Stems first, then parts, then versions; each in the order of the library. */
export function inChoiceOrder<T extends Choice & { readonly position: number }>(choices: readonly T[]): T[] {
  return [...choices].sort(
    (a, b) => CHOICE_ROLES.indexOf(a.role) - CHOICE_ROLES.indexOf(b.role) || a.position - b.position,
  )
}

const OPENING = /\b(opening|open|intro|start|beginning|head)\b/i
const LOOP = /\b(loop|middle|body|main)\b/i
const ENDING = /\b(ending|end|outro|tail|close)\b/i

/** The parts of a bed that are played one after the other, by what their library calls them; null where one of the three is not among them. */
export function partsInOrder<T extends Choice>(
  choices: readonly T[],
): { readonly opening: T; readonly loop: T; readonly ending: T } | null {
  const parts = choices.filter(({ role }) => role === 'part')
  const [opening, loop, ending] = [OPENING, LOOP, ENDING].map((name) => parts.find((one) => name.test(one.name)))
  return opening && loop && ending && new Set([opening, loop, ending]).size === 3 ? { opening, loop, ending } : null
}
