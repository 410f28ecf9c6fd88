import { Link } from 'wouter'
import { FirstStepsNotice } from '../first/FirstStepsNotice'

/** What the panel says until a sound is chosen. */
export function ListenFirst({ hasVideo }: { hasVideo: boolean }) {
  return (
    <div className="p-6">
      <h2 className="mb-2 text-xl font-semibold">Listen first</h2>
      <p className="quiet">
        Press the down arrow and move through the list: each sound plays at once. What its terms allow shows here.
      </p>
      <p className="quiet mt-3">Drop a sound file on this page to find sounds like it.</p>
      <FirstStepsNotice className="quiet mt-3" />
      {!hasVideo && (
        <p className="quiet mt-3">
          Add a video above, and every sound shows whether it may be used in it.{' '}
          <Link href="/videos" className="underline">
            Videos
          </Link>
        </p>
      )}
    </div>
  )
}
