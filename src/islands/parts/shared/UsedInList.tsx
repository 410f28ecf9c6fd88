import { Link } from 'wouter'
import type { UsedIn } from '../../../contract'
import { messages } from '../../../messages'
import { clock } from '../../format/words'

/** Videos in which a sound is heard, with the times. */
export function UsedInList({ usedIn }: { usedIn: readonly UsedIn[] }) {
  if (usedIn.length === 0) return <p className="text-sm">{messages.shared.itWasHeardInNo}</p>
  return (
    <ul>
      {usedIn.map(({ videoId, title, timesS }) => (
        <li key={videoId} className="leading-snug">
          {messages.shared.at(
            <Link href={`/videos/${videoId}`} className="underline">
              {title}
            </Link>,
            timesS.map(clock).join(', '),
          )}
        </li>
      ))}
    </ul>
  )
}
