import { messages } from '../../../messages'
import type { useNoting } from '../../moments/use-noting'
import { Menu } from '../shared/Menu'

/** What is taken off the time of the key: shown, set, or learned. */
export function ReactionField({ noting }: { noting: ReturnType<typeof useNoting> }) {
  const { reactionS, isLearned, isSet, setReaction } = noting
  const ms = Math.round(reactionS * 1000)
  return (
    <Menu
      label={
        <span className="quiet text-sm">
          {messages.moments.msForYourHand(ms)}
          {isLearned ? messages.moments.learned : ''}
        </span>
      }
      name={messages.moments.reactionTimeMs(ms)}
      side="right"
      className="btn btn-ghost btn-xs font-normal"
    >
      {() => (
        <div className="w-64 space-y-2 text-sm">
          <p>
            {messages.moments.aMomentIsPutSo}{' '}
            {isSet
              ? messages.moments.youSetIt
              : isLearned
                ? messages.moments.itWasLearnedFromYour
                : messages.moments.itIsLearnedAsYou}
          </p>
          <label className="flex items-center gap-2">
            <span>{messages.moments.setTo}</span>
            <input
              type="number"
              className="input input-xs w-20"
              min={0}
              max={1000}
              step={10}
              defaultValue={ms}
              onBlur={({ target }) => {
                const value = Number(target.value)
                if (value >= 0 && value <= 1000 && value !== ms) setReaction(value / 1000)
              }}
            />
            <span>{messages.moments.ms}</span>
          </label>
          {isSet && (
            <button type="button" className="btn btn-xs" onClick={() => setReaction(null)}>
              {messages.moments.learnItInstead}
            </button>
          )}
        </div>
      )}
    </Menu>
  )
}
