import { ChevronDown, Plus } from 'lucide-react'
import { useState } from 'react'
import { useLocation } from 'wouter'
import { usesInWords } from '../../../core/rights'
import { messages } from '../../../messages'
import { useChangeShell, useShell, useVideos } from '../../api/queries'
import { dayWords } from '../../format/words'
import { Menu } from '../shared/Menu'
import { VideoStateMark } from '../shared/VideoStateMark'
import { VideoForm } from '../videos/VideoForm'

/** The video in hand in the top bar: what it is, where it goes, how many points are open; and the way to another. */
export function VideoInHand() {
  const shell = useShell()
  const videos = useVideos()
  const change = useChangeShell()
  const [making, setMaking] = useState(false)
  const [, navigate] = useLocation()
  const list = videos.data?.videos ?? []
  const inHand = list.find(({ id }) => id === shell.data?.videoInHandId) ?? null
  return (
    <>
      <Menu
        className="flex w-full min-w-0 items-center gap-3 rounded border ruled px-3 py-1.5 text-left hover:bg-base-200"
        panelClassName="w-96 max-w-[calc(100vw-1rem)] py-1"
        label={
          <>
            <span className="min-w-0">
              <span className="small-label block leading-tight">{messages.shell.videoInHand}</span>
              <span className="block truncate font-semibold leading-tight" data-testid="video-in-hand">
                {inHand?.title ?? messages.shell.noneYet}
              </span>
            </span>
            {inHand && (
              <span className="quiet hidden min-w-0 truncate text-sm xl:block">
                {usesInWords(inHand.uses)}
                {inHand.uses.publishOn ? ` · ${dayWords(inHand.uses.publishOn)}` : ''}
              </span>
            )}
            {inHand && <VideoStateMark state={inHand.state} short />}
            <ChevronDown size={16} aria-hidden="true" className="ml-auto shrink-0" />
          </>
        }
      >
        {(close) => (
          <>
            {list.length > 0 && (
              <ul aria-label={messages.common.videos}>
                {list.map((video) => (
                  <li key={video.id}>
                    <button
                      type="button"
                      className={`flex w-full items-center justify-between gap-3 px-3 py-2 text-left hover:bg-base-200 ${video.id === inHand?.id ? 'bg-base-200 font-semibold' : ''}`}
                      aria-current={video.id === inHand?.id}
                      onClick={() => {
                        change.mutate({ videoInHandId: video.id })
                        close()
                      }}
                    >
                      <span className="min-w-0 truncate">{video.title}</span>
                      <VideoStateMark state={video.state} />
                    </button>
                  </li>
                ))}
              </ul>
            )}
            <div className="mt-1 flex gap-2 border-t ruled px-3 pt-2 pb-1">
              <button
                type="button"
                className="btn btn-sm"
                onClick={() => {
                  setMaking(true)
                  close()
                }}
              >
                <Plus size={16} aria-hidden="true" /> {messages.shell.addAVideo}
              </button>
              {inHand && (
                <button
                  type="button"
                  className="btn btn-ghost btn-sm"
                  onClick={() => {
                    navigate(`/videos/${inHand.id}`)
                    close()
                  }}
                >
                  {messages.shell.openItsPageLink}
                </button>
              )}
            </div>
          </>
        )}
      </Menu>
      {making && <VideoForm video={null} onClose={() => setMaking(false)} />}
    </>
  )
}
