import { X } from 'lucide-react'
import { Link } from 'wouter'
import { messages } from '../../../messages'
import type { MomentTarget } from '../../moments/use-moment-target'

/** For which moment is looked, with the way back to it. */
export function ForMoment({ target, onDrop }: { target: MomentTarget; onDrop: () => void }) {
  const { label, listedIds, backAddress, problem } = target
  return (
    <div className="flex flex-wrap items-center gap-2 text-sm">
      <span className="badge badge-neutral gap-1.5" data-testid="for-moment">
        {messages.find.for(label)}
        <button type="button" aria-label={messages.find.stopSearchingForThisMoment} onClick={onDrop}>
          <X size={13} aria-hidden="true" />
        </button>
      </span>
      <span className="quiet">
        {listedIds.size === 0
          ? messages.find.aPutsASoundOn
          : messages.find.of6OnItsShort(messages.counts.sounds(listedIds.size))}
      </span>
      <Link href={backAddress} className="ml-auto font-semibold underline underline-offset-2">
        {messages.find.backToTheMoment}
      </Link>
      {problem && (
        <span role="alert" className="text-error">
          {problem}
        </span>
      )}
    </div>
  )
}
