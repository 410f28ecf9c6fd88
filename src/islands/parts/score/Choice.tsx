interface ChoiceProps<T extends string> {
  readonly name: string
  readonly value: T
  readonly values: Readonly<Record<T, string>>
  readonly onChange: (value: T) => void
  readonly className?: string
}

/** One of a few, by its words. */
export function Choice<T extends string>({ name, value, values, onChange, className = '' }: ChoiceProps<T>) {
  return (
    <label className={`text-sm ${className}`}>
      <span className="sr-only">{name}</span>
      <select className="select select-sm" value={value} onChange={({ target }) => onChange(target.value as T)}>
        {(Object.entries(values) as [T, string][]).map(([key, words]) => (
          <option key={key} value={key}>
            {words}
          </option>
        ))}
      </select>
    </label>
  )
}
