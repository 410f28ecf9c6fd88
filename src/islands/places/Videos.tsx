import { Plus } from 'lucide-react'
import { useState } from 'react'
import { Link, useLocation } from 'wouter'
import { usesInWords } from '../../core/rights'
import { useVideos } from '../api/queries'
import { dayWords } from '../format/words'
import { RemovedList } from '../parts/shared/RemovedList'
import { Empty, Failed, Loading } from '../parts/shared/States'
import { VideoStateMark } from '../parts/shared/VideoStateMark'
import { VideoForm } from '../parts/videos/VideoForm'

/** Videos: all of them, with what is open in each. */
export function Videos() {
  const query = useVideos()
  const [making, setMaking] = useState(false)
  const [, navigate] = useLocation()
  const make = (
    <button type="button" className="btn btn-primary" onClick={() => setMaking(true)}>
      <Plus size={18} aria-hidden="true" /> Add a video
    </button>
  )
  const videos = query.data?.videos ?? []
  return (
    <div className="relative h-full overflow-y-auto">
      <div className="mx-auto max-w-5xl p-8">
        <div className="mb-6 flex items-center justify-between">
          <h1 className="text-3xl font-semibold">Videos</h1>
          {videos.length > 0 && make}
        </div>
        {query.isPending && <Loading what="Looking for videos" />}
        {query.isError && <Failed error={query.error} onRetry={() => void query.refetch()} />}
        {query.data && videos.length === 0 && (
          <Empty title="No video yet" action={make}>
            A video says where it will be published. From then on every sound shows whether its terms allow that, and
            the finished file can be checked.
          </Empty>
        )}
        <ul>
          {videos.map((video) => (
            <li key={video.id} className="border-t ruled">
              <Link
                href={`/videos/${video.id}`}
                className="grid grid-cols-[1fr_auto] items-center gap-6 px-2 py-4 hover:bg-base-200"
              >
                <div className="min-w-0">
                  <h2 className="truncate text-xl font-semibold">{video.title}</h2>
                  <p className="quiet">
                    {usesInWords(video.uses)}
                    {video.uses.publishOn ? ` · ${dayWords(video.uses.publishOn)}` : ' · no publish date'}
                  </p>
                </div>
                <VideoStateMark state={video.state} />
              </Link>
            </li>
          ))}
        </ul>
        <RemovedList of={['videos', 'exports', 'checks', 'cuts']} />
      </div>
      {making && (
        <VideoForm
          video={null}
          onClose={(saved) => {
            setMaking(false)
            if (saved) navigate(`/videos/${saved.id}`)
          }}
        />
      )}
    </div>
  )
}
