import { ChevronDown } from 'lucide-react'
import { type ReactNode, useContext } from 'react'
import { FocusScope } from 'react-aria/FocusScope'
import {
  Button,
  DialogTrigger,
  OverlayTriggerStateContext,
  Popover,
  PopoverContext,
  type PopoverProps,
  useSlottedContext,
} from 'react-aria-components'

interface MenuProps {
  readonly label: ReactNode
  /** Name for those who do not see it, where the label is no text. */
  readonly name?: string
  /** Whether something in it is set. */
  readonly active?: boolean
  readonly side?: 'left' | 'right'
  readonly above?: boolean
  /** Of the button; by default a quiet one with an arrow. */
  readonly className?: string
  /** Of the panel, in place of room around what is in it. */
  readonly panelClassName?: string
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
  panelClassName = 'max-h-96 min-w-52 p-3',
  onOpen,
  children,
}: MenuProps) {
  return (
    <DialogTrigger onOpenChange={(open) => open && onOpen?.()}>
      <Button
        className={className ?? `btn btn-sm gap-0.5 px-1.5 font-normal ${active ? 'btn-neutral' : 'btn-ghost'}`}
        {...(name ? { 'aria-label': name } : {})}
      >
        {label}
        {className === undefined && <ChevronDown size={14} aria-hidden="true" />}
      </Button>
      <Panel placement={`${above ? 'top' : 'bottom'} ${side}`} className={panelClassName}>
        {children}
      </Panel>
    </DialogTrigger>
  )
}

interface PanelProps {
  readonly placement: PopoverProps['placement']
  readonly className: string
  readonly children: (close: () => void) => ReactNode
}

/** Everything in it is in the dialog, also the button by which those who do not see it leave it. */
function Panel({ placement, className, children }: PanelProps) {
  const context = useSlottedContext(PopoverContext)
  const trigger = useContext(OverlayTriggerStateContext)
  return (
    <Popover
      isNonModal
      {...(placement ? { placement } : {})}
      offset={4}
      className={`overflow-y-auto rounded border ruled bg-base-100 text-base-content shadow-lg ${className}`}
      // Its own button closes it by itself.
      shouldCloseOnInteractOutside={(element) => !context?.triggerRef?.current?.contains(element)}
      render={(props) => <div {...props} id={context?.id} role="dialog" />}
    >
      <FocusScope autoFocus>{children(() => trigger?.close())}</FocusScope>
    </Popover>
  )
}
