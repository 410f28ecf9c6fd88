import { X } from 'lucide-react'
import { Link } from 'wouter'
import { messages } from '../../../messages'
import { useCompare } from '../../state/compare'

/** Pinned sounds at the foot of the results, with the way to hear them against each other. */
export function CompareStrip() {
  const { sounds, toggle, clear } = useCompare()
  if (sounds.length === 0) return null
  return (
    <div className="flex items-center gap-2 border-t ruled bg-base-200 px-4 py-1.5 text-sm">
      <ol aria-label={messages.find.toCompare} className="flex min-w-0 flex-1 gap-2 overflow-hidden">
        {sounds.map((sound, index) => (
          <li key={sound.id} className="flex min-w-0 items-center gap-1">
            <span className="font-semibold">{index + 1}</span>
            <span className="truncate">{sound.title}</span>
            <button
              type="button"
              className="btn btn-ghost btn-xs btn-square"
              aria-label={messages.find.removeFromCompare(sound.title)}
              onClick={() => toggle(sound)}
            >
              <X size={13} aria-hidden="true" />
            </button>
          </li>
        ))}
      </ol>
      <button type="button" className="btn btn-ghost btn-sm" onClick={clear}>
        {messages.find.clear}
      </button>
      <Link href="/find/compare" className="btn btn-sm btn-neutral">
        {messages.find.compareCount(sounds.length)}
      </Link>
    </div>
  )
}
