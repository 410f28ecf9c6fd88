import { Link } from 'wouter'
import { messages } from '../../../messages'
import { FirstStepsNotice } from '../first/FirstStepsNotice'

/** What the panel says until a sound is chosen. */
export function ListenFirst({ hasVideo }: { hasVideo: boolean }) {
  return (
    <div className="p-6">
      <h2 className="mb-2 text-xl font-semibold">{messages.find.listenFirst}</h2>
      <p className="quiet">{messages.find.pressTheDownArrowAnd}</p>
      <p className="quiet mt-3">{messages.find.dropASoundFileOn}</p>
      <FirstStepsNotice className="quiet mt-3" />
      {!hasVideo && (
        <p className="quiet mt-3">
          {messages.find.addAVideoAboveAnd(
            <Link href="/videos" className="underline">
              {messages.common.videos}
            </Link>,
          )}
        </p>
      )}
    </div>
  )
}
