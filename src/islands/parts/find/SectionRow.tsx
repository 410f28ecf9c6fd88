import { Link } from 'wouter'
import type { SectionHeading } from '../../../contract'
import { counted } from '../../format/words'
import { addressOf, fromQuestion, NOTHING_ASKED } from '../../state/find-state'

/** Height of what stands above a part of the list. */
export const HEADING_PX = 34

interface Heading {
  readonly title: string
  readonly more: string
  /** Where all of the part is seen; null where there is no such place. */
  readonly address: string | null
  readonly action: string
}

/** What stands above a part of the list: why these sounds are shown, and the way to all of them. */
export function SectionRow({ heading, topPx }: { heading: SectionHeading; topPx: number }) {
  const { title, more, address, action } = headingOf(heading)
  return (
    <div
      role="row"
      data-section={heading.kind}
      className="absolute inset-x-0 flex items-end gap-2 border-t ruled px-4 pb-1"
      style={{ height: HEADING_PX, top: topPx }}
    >
      <span role="rowheader" className="min-w-0 truncate font-display font-semibold">
        {title}
      </span>
      <span role="gridcell" className="quiet shrink-0 text-sm">
        {more}
      </span>
      {address !== null && (
        <span role="gridcell" className="ml-auto shrink-0 text-sm">
          <Link href={address} className="underline underline-offset-2">
            {action}
          </Link>
        </span>
      )}
    </div>
  )
}

function headingOf(heading: SectionHeading): Heading {
  switch (heading.kind) {
    case 'moment':
      return {
        title: `${heading.time} ${heading.words}`,
        more: 'a moment without a sound',
        address: addressOf(
          fromQuestion(heading.q, 'best', null, { videoId: heading.videoId, momentId: heading.momentId }),
        ),
        action: heading.count > 1 ? `Show all ${heading.count}` : 'Search for it',
      }
    case 'category':
      return {
        title: heading.name,
        more: counted(heading.count, 'sound'),
        address: addressOf({ ...NOTHING_ASKED, filters: [{ kind: 'category', names: [heading.name] }] }),
        action: 'Show all',
      }
    case 'kept':
      return {
        title: 'Kept',
        more: counted(heading.count, 'sound'),
        address: addressOf({ ...NOTHING_ASKED, filters: [{ kind: 'kept', is: true }] }),
        action: 'Show all',
      }
    case 'often-used':
      return {
        title: 'Used most in your videos',
        more: counted(heading.count, 'sound'),
        address: addressOf({ ...NOTHING_ASKED, sort: 'most-used', filters: [{ kind: 'used', is: true }] }),
        action: 'Show all',
      }
    case 'newest':
      return {
        title: 'Newest',
        more: '',
        address: addressOf({ ...NOTHING_ASKED, sort: 'newest' }),
        action: 'Show all',
      }
    case 'words': {
      const words = heading.met.join(' ')
      return {
        title: `${heading.met.length} of ${heading.of} words: ${words}`,
        more: counted(heading.count, 'sound'),
        address: addressOf({ ...NOTHING_ASKED, text: words }),
        action: `Search for “${words}”`,
      }
    }
    case 'live':
      return { title: `Also from ${heading.name}`, more: 'found there by other words', address: null, action: '' }
    case 'alike':
      return {
        title: `Sounds like ${heading.title}`,
        more: '',
        address: addressOf({ ...NOTHING_ASKED, like: `sound:${heading.soundId}` }),
        action: 'Show all',
      }
  }
}
