import { ChevronDown } from 'lucide-react'
import { type ReactNode, useCallback, useRef, useState } from 'react'
import { useDismissed } from '../../state/use-dismissed'

interface MenuProps {
  readonly label: ReactNode
  /** Name for those who do not see it, where the label is no text. */
  readonly name?: string
  /** Whether something in it is set. */
  readonly active?: boolean
  readonly side?: 'left' | 'right'
  readonly above?: boolean
  readonly className?: string
  readonly onOpen?: () => void
  readonly children: (close: () => void) => ReactNode
}

/** A button with a panel below it that closes by itself when the work goes on elsewhere. */
export function Menu({
  label,
  name,
  active = false,
  side = 'left',
  above = false,
  className,
  onOpen,
  children,
}: MenuProps) {
  const [open, setOpen] = useState(false)
  const rootRef = useRef<HTMLDivElement>(null)
  const buttonRef = useRef<HTMLButtonElement>(null)
  const dismiss = useCallback((byKey: boolean) => {
    setOpen(false)
    if (byKey) buttonRef.current?.focus()
  }, [])
  useDismissed(rootRef, open, dismiss)
  return (
    <div ref={rootRef} className="relative">
      <button
        ref={buttonRef}
        type="button"
        className={className ?? `btn btn-sm gap-0.5 px-1.5 font-normal ${active ? 'btn-neutral' : 'btn-ghost'}`}
        aria-expanded={open}
        {...(name ? { 'aria-label': name } : {})}
        onClick={() => {
          if (!open) onOpen?.()
          setOpen(!open)
        }}
      >
        {label}
        {className === undefined && <ChevronDown size={14} aria-hidden="true" />}
      </button>
      {open && (
        <div
          className={`absolute z-30 max-h-96 min-w-52 overflow-y-auto rounded border ruled bg-base-100 p-3 shadow-lg ${side === 'left' ? 'left-0' : 'right-0'} ${above ? 'bottom-full mb-1' : 'top-full mt-1'}`}
        >
          {children(() => setOpen(false))}
        </div>
      )}
    </div>
  )
}
