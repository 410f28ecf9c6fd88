import { Link } from 'wouter'
import type { SectionHeading } from '../../../contract'
import { messages } from '../../../messages'
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
        more: messages.find.aMomentWithoutASound,
        address: addressOf(
          fromQuestion(heading.q, 'best', null, { videoId: heading.videoId, momentId: heading.momentId }),
        ),
        action: heading.count > 1 ? messages.find.showAll(heading.count) : messages.find.searchForIt,
      }
    case 'category':
      return {
        title: heading.name,
        more: messages.counts.sounds(heading.count),
        address: addressOf({ ...NOTHING_ASKED, filters: [{ kind: 'category', names: [heading.name] }] }),
        action: messages.find.showAllPlain,
      }
    case 'kept':
      return {
        title: messages.common.kept,
        more: messages.counts.sounds(heading.count),
        address: addressOf({ ...NOTHING_ASKED, filters: [{ kind: 'kept', is: true }] }),
        action: messages.find.showAllPlain,
      }
    case 'often-used':
      return {
        title: messages.find.usedMostInYourVideos,
        more: messages.counts.sounds(heading.count),
        address: addressOf({ ...NOTHING_ASKED, sort: 'most-used', filters: [{ kind: 'used', is: true }] }),
        action: messages.find.showAllPlain,
      }
    case 'newest':
      return {
        title: messages.find.newest,
        more: '',
        address: addressOf({ ...NOTHING_ASKED, sort: 'newest' }),
        action: messages.find.showAllPlain,
      }
    case 'words': {
      const words = heading.met.join(' ')
      return {
        title: messages.find.ofWords(heading.met.length, heading.of, words),
        more: messages.counts.sounds(heading.count),
        address: addressOf({ ...NOTHING_ASKED, text: words }),
        action: messages.find.searchFor(words),
      }
    }
    case 'live':
      return {
        title: messages.find.alsoFrom(heading.name),
        more: messages.find.foundThereByOtherWords,
        address: null,
        action: '',
      }
    case 'alike':
      return {
        title: messages.find.soundsLikeTitle(heading.title),
        more: '',
        address: addressOf({ ...NOTHING_ASKED, like: `sound:${heading.soundId}` }),
        action: messages.find.showAllPlain,
      }
  }
}
