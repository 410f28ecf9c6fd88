import { useState } from 'react'
import { Link } from 'wouter'
import { isUnderWay } from '../api/job-list'
import { useJobs } from '../api/jobs'
import { useChangeShell, useShell, useSources, useSync } from '../api/queries'

/** The first page of an empty application: what to do, in order. */
export function FirstRun() {
  const sources = useSources()
  const shell = useShell()
  const sync = useSync()
  const jobs = useJobs()
  const change = useChangeShell()
  const [name, setName] = useState('')
  const working = jobs.some((job) => job.kind === 'mirror' && isUnderWay(job))
  return (
    <div className="relative h-full overflow-y-auto">
      <div className="mx-auto max-w-3xl p-10">
        <h1 className="mb-3 text-4xl font-semibold">Bring in the first sounds</h1>
        <p className="quiet mb-8 max-w-xl">
          Good Thud searches several stock libraries at once, keeps the papers of what you download, and listens to your
          finished video to say whether every sound in it is cleared.
        </p>
        <ol className="space-y-7">
          <Step number={1} title="Say who holds the licences">
            {shell.data?.licensee ? (
              <p>{shell.data.licensee}</p>
            ) : (
              <form
                className="flex max-w-md gap-2"
                onSubmit={(event) => {
                  event.preventDefault()
                  if (name.trim()) change.mutate({ licensee: name })
                }}
              >
                <label className="flex-1">
                  <span className="sr-only">Name of the licence holder</span>
                  <input
                    className="input w-full"
                    placeholder="Your name or your channel"
                    value={name}
                    onChange={(event) => setName(event.target.value)}
                  />
                </label>
                <button type="submit" className="btn">
                  Keep
                </button>
              </form>
            )}
          </Step>
          <Step number={2} title="Connect a library">
            <ul className="space-y-3">
              {sources.data?.sources
                .filter(({ kind }) => kind === 'library')
                .map((source) => (
                  <li key={source.id} className="flex items-center justify-between gap-6 border-b ruled pb-3">
                    <div>
                      <p className="font-semibold">{source.name}</p>
                      <p className="quiet text-sm">{source.about}</p>
                      {source.lastError && <p className="text-sm text-error">{source.lastError}</p>}
                    </div>
                    <button
                      type="button"
                      className="btn btn-primary"
                      disabled={working}
                      onClick={() => sync.mutate(source.id)}
                    >
                      Connect
                    </button>
                  </li>
                ))}
            </ul>
          </Step>
          <Step number={3} title="Add a video, and check it when it is finished">
            <p className="quiet">
              Say where it will be published; then drop the exported file on its page.{' '}
              <Link href="/videos" className="underline">
                Go to the videos
              </Link>
            </p>
          </Step>
        </ol>
      </div>
    </div>
  )
}

function Step({ number, title, children }: { number: number; title: string; children: React.ReactNode }) {
  return (
    <li className="grid grid-cols-[2.500rem_1fr] gap-3">
      <span className="font-display text-2xl font-semibold" aria-hidden="true">
        {number}
      </span>
      <div>
        <h2 className="mb-2 text-xl font-semibold">{title}</h2>
        {children}
      </div>
    </li>
  )
}
