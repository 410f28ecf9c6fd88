import { useEffect, useRef, useState } from 'react'

interface NumberFieldProps {
  readonly label: string
  readonly value: number
  readonly step: number
  /** Where it cannot be done the field shows again what stands. */
  readonly onChange: (value: number) => void
}

/** A number that is taken when Enter is pressed or the field is left; Escape gives it up and leaves the field. */
export function NumberField({ label, value, step, onChange }: NumberFieldProps) {
  const shown = String(Math.round(value * 1000) / 1000)
  const [text, setText] = useState(shown)
  useEffect(() => setText(shown), [shown])
  const isGivenUp = useRef(false)
  const take = (): void => {
    if (isGivenUp.current) return
    const next = Number(text)
    if (text === shown) return
    // What comes of it is shown once it stands; it may be what stood before.
    setText(shown)
    if (text.trim() !== '' && Number.isFinite(next)) onChange(next)
  }
  return (
    <label className="block text-sm">
      <span className="quiet block">{label}</span>
      <input
        type="number"
        className="input input-sm w-full tabular-nums"
        step={step}
        value={text}
        onChange={({ target }) => setText(target.value)}
        onBlur={take}
        onKeyDown={(event) => {
          if (event.key === 'Enter') take()
          if (event.key !== 'Escape') return
          setText(shown)
          isGivenUp.current = true
          event.currentTarget.blur()
          isGivenUp.current = false
        }}
      />
    </label>
  )
}
