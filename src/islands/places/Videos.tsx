import { useVirtualizer } from '@tanstack/react-virtual'
import { Plus } from 'lucide-react'
import { useMemo, useRef, useState } from 'react'
import { useLocation } from 'wouter'
import type { Video } from '../../contract'
import { messages } from '../../messages'
import { usePreparing } from '../api/jobs'
import { useVideoOverviews, useVideos } from '../api/queries'
import { RemovedList } from '../parts/shared/RemovedList'
import { Empty, Failed, Loading } from '../parts/shared/States'
import { VideoForm } from '../parts/videos/VideoForm'
import { VideoRow } from '../parts/videos/VideoRow'

/** Height of a row, and how far down the list begins, px. */
const ROW_PX = 106
const LIST_TOP_PX = 96

/** Videos: all of them, with what is open in each. */
export function Videos() {
  const query = useVideos()
  const [making, setMaking] = useState(false)
  const [, navigate] = useLocation()
  const make = (
    <button type="button" className="btn btn-primary" onClick={() => setMaking(true)}>
      <Plus size={18} aria-hidden="true" /> {messages.videos.addAVideo}
    </button>
  )
  const preparing = usePreparing()
  const videos = query.data?.videos ?? []
  const overview = useVideoOverviews().data?.videos
  const overviews = useMemo(() => new Map(overview?.map((one) => [one.id, one])), [overview])
  const ref = useRef<HTMLDivElement>(null)
  const rows = useVirtualizer({
    count: videos.length,
    getScrollElement: () => ref.current,
    estimateSize: () => ROW_PX,
    scrollMargin: LIST_TOP_PX,
    overscan: 4,
  })
  return (
    <div ref={ref} className="relative h-full overflow-y-auto">
      <div className="mx-auto max-w-5xl p-8">
        <div className="mb-6 flex items-center justify-between">
          <h1 className="text-3xl font-semibold">{messages.common.videos}</h1>
          {videos.length > 0 && make}
        </div>
        {query.isPending && <Loading what={messages.videos.lookingForVideos} />}
        {query.isError && <Failed error={query.error} onRetry={() => void query.refetch()} />}
        {query.data && videos.length === 0 && (
          <Empty title={messages.videos.noVideoYet} action={make}>
            {messages.videos.aVideoSaysWhereIt} {preparing && messages.videos.moreIsOnItsWay(preparing.title)}
          </Empty>
        )}
        {videos.length > 0 && (
          <ul className="relative" style={{ height: rows.getTotalSize() }}>
            {rows.getVirtualItems().map(({ index, start }) => {
              const video = videos[index] as Video
              return (
                <li
                  key={video.id}
                  ref={rows.measureElement}
                  data-index={index}
                  className="absolute inset-x-0"
                  style={{ transform: `translateY(${start - rows.options.scrollMargin}px)` }}
                >
                  <VideoRow video={video} overview={overviews.get(video.id) ?? null} />
                </li>
              )
            })}
          </ul>
        )}
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
