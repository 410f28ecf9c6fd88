/** Some values of one thing, changed. */
export interface ChangeById<Values> {
  readonly id: string
  readonly to: Partial<Values>
}

/**
 * Things of which some are changed, in their order, and the changes that take that back.
 *
 * @param check Throws for a thing that cannot be. @param missing Makes the error for an id that is not there.
 */
export function changedById<T extends { readonly id: string }, Values extends object>(
  all: readonly T[],
  changes: readonly ChangeById<Values>[],
  { check, missing }: { readonly check: (value: T) => void; readonly missing: () => Error },
): { readonly values: T[]; readonly backwards: ChangeById<Values>[] } {
  const byId = new Map(all.map((value) => [value.id, value]))
  const backwards: ChangeById<Values>[] = []
  for (const { id, to } of changes) {
    const before = byId.get(id)
    if (!before) throw missing()
    const after = { ...before, ...to, id }
    check(after)
    byId.set(id, after)
    const old = Object.keys(to).map((key) => [key, before[key as keyof T]])
    backwards.unshift({ id, to: Object.fromEntries(old) as Partial<Values> })
  }
  return { values: [...byId.values()], backwards }
}
