import { Archive, Undo2 } from 'lucide-react'
import { useState } from 'react'
import { Link } from 'wouter'
import type { Notice } from '../../contract'
import { messages } from '../../messages'
import { useDesk, useMarkSeen } from '../api/papers-queries'
import { FirstStepsNotice } from '../parts/first/FirstStepsNotice'
import { Empty, Failed, Loading } from '../parts/shared/States'

const KIND_WORDS: Readonly<Record<Notice['kind'], string>> = {
  video: messages.papers.video,
  heard: messages.papers.heard,
  plan: messages.papers.plan,
  terms: messages.common.terms,
  withdrawn: messages.papers.withdrawn,
  source: messages.papers.source,
  proposal: messages.papers.folder,
  room: messages.papers.disk,
  order: messages.papers.order,
}

/** Desk: what wants attention today, and what each of it means for the videos. */
export function Desk() {
  const query = useDesk()
  const [showSeen, setShowSeen] = useState(false)
  const { notices = [], seen = [] } = query.data ?? {}
  return (
    <div className="relative h-full overflow-y-auto">
      <div className="mx-auto max-w-5xl p-8">
        <h1 className="mb-6 text-3xl font-semibold">{messages.papers.desk}</h1>
        <FirstStepsNotice className="mb-6 border-t ruled pt-4" />
        {query.isPending && <Loading what={messages.papers.lookingForWhatNeedsAttention} />}
        {query.isError && <Failed error={query.error} onRetry={() => void query.refetch()} />}
        {query.data && notices.length === 0 && (
          <Empty
            title={messages.papers.nothingNeedsAttention}
            action={
              <Link href="/find" className="btn btn-primary">
                {messages.common.findASound}
              </Link>
            }
          >
            {messages.papers.videosThatAreNotReady}
          </Empty>
        )}
        <ul>
          {notices.map((notice) => (
            <NoticeRow key={notice.key} notice={notice} seen={false} />
          ))}
        </ul>
        {seen.length > 0 && (
          <section className="mt-8">
            <button type="button" className="btn btn-ghost btn-sm -ml-3" onClick={() => setShowSeen(!showSeen)}>
              {showSeen ? messages.papers.hide : messages.papers.show} {messages.counts.dismissedNotices(seen.length)}
            </button>
            {showSeen && (
              <ul>
                {seen.map((notice) => (
                  <NoticeRow key={notice.key} notice={notice} seen />
                ))}
              </ul>
            )}
          </section>
        )}
      </div>
    </div>
  )
}

function NoticeRow({ notice, seen }: { notice: Notice; seen: boolean }) {
  const mark = useMarkSeen()
  const { key, kind, urgent, title, sentence, href, videos } = notice
  return (
    <li className="grid grid-cols-[6rem_1fr_auto] gap-x-4 border-t ruled py-4 max-sm:grid-cols-[1fr_auto]">
      <p className={`small-label pt-1 max-sm:col-span-2 ${urgent ? 'text-error' : ''}`}>{KIND_WORDS[kind]}</p>
      <div className="min-w-0">
        <h2 className={`text-lg font-semibold ${urgent ? '' : 'font-medium'}`}>
          {href ? (
            <Link
              href={href}
              className="underline decoration-base-content/30 underline-offset-4 hover:decoration-current"
            >
              {title}
            </Link>
          ) : (
            title
          )}
        </h2>
        <p className="quiet">{sentence}</p>
        {videos.length > 0 && (
          <ul className="mt-2 space-y-1 border-l-2 border-base-content/20 pl-3 text-sm">
            {videos.map((video) => (
              <li key={video.id}>
                <Link href={`/videos/${video.id}`} className="font-semibold underline underline-offset-2">
                  {video.title}
                </Link>
                <span>: {video.meaning}</span>
              </li>
            ))}
          </ul>
        )}
      </div>
      <button
        type="button"
        className="btn btn-ghost btn-sm"
        disabled={mark.isPending}
        aria-label={`${seen ? messages.papers.restore : messages.common.dismiss}: ${title}`}
        onClick={() => mark.mutate({ key, seen: !seen })}
      >
        {seen ? <Undo2 size={16} aria-hidden="true" /> : <Archive size={16} aria-hidden="true" />}
        {seen ? messages.papers.restore : messages.common.dismiss}
      </button>
    </li>
  )
}
