import { Captions, Search } from 'lucide-react'
import { useRef } from 'react'
import { Link } from 'wouter'
import { messages } from '../../../messages'
import { useRemoveCaptions, type useSetCaptions, useSpokenWords } from '../../api/shelf-queries'
import { clock } from '../../format/words'
import { addressOf, NOTHING_ASKED } from '../../state/find-state'
import { CaptionFileInput } from './CaptionFileInput'

interface SpokenSoundsProps {
  readonly videoId: number
  /** Takes captions in; the page does so too when they are dropped on it. */
  readonly captions: ReturnType<typeof useSetCaptions>
}

/** Words that are spoken in a video and stand for a sound, each with the way to results and what was used for it before. */
export function SpokenSounds({ videoId, captions: set }: SpokenSoundsProps) {
  const words = useSpokenWords(videoId)
  const remove = useRemoveCaptions(videoId)
  const fileRef = useRef<HTMLInputElement>(null)
  const { fileName = null, cueCount = 0, moments = [] } = words.data ?? {}
  return (
    <section aria-labelledby="spoken" className="mt-6 border-t ruled pt-4">
      <header className="mb-2 flex flex-wrap items-center gap-3">
        <h2 id="spoken" className="flex-1 text-lg font-semibold">
          {messages.videos.wordsThatNameASound}
        </h2>
        {fileName && (
          <button type="button" className="btn btn-ghost btn-sm" onClick={() => remove.mutate()}>
            {messages.videos.removeCaptions}
          </button>
        )}
        <button type="button" className="btn btn-sm" onClick={() => fileRef.current?.click()}>
          <Captions size={16} aria-hidden="true" />{' '}
          {fileName ? messages.videos.replaceCaptions : messages.videos.addCaptions}
        </button>
        <CaptionFileInput inputRef={fileRef} onFile={(file) => set.mutate(file)} />
      </header>
      {(set.error ?? words.error ?? remove.error) && (
        <p role="alert" className="text-error">
          {(set.error ?? words.error ?? remove.error)?.message}
        </p>
      )}
      {words.data && !fileName && <p className="quiet">{messages.videos.dropTheCaptionsOfThe}</p>}
      {fileName && moments.length === 0 && <p>{messages.videos.noneOfTheCaptionsIn(cueCount, fileName)}</p>}
      {moments.length > 0 && (
        <ul aria-label={messages.videos.spokenWords}>
          {moments.map((moment) => (
            <li
              key={`${moment.atS} ${moment.words}`}
              className="flex items-baseline gap-3 border-b ruled py-1.5 max-sm:flex-wrap"
            >
              <span className="w-14 shrink-0 text-right tabular-nums">{clock(moment.atS)}</span>
              <Link
                href={addressOf({ ...NOTHING_ASKED, text: moment.words })}
                className="inline-flex w-44 shrink-0 items-baseline gap-1.5 font-semibold underline underline-offset-2"
              >
                <Search size={14} aria-hidden="true" /> {moment.words}
              </Link>
              <span className="quiet min-w-0 flex-1 truncate max-sm:basis-full">{moment.said}</span>
              <span className="flex max-w-96 flex-wrap gap-x-3">
                {moment.first.map(({ id, title, why }) => (
                  <Link key={id} href={addressOf({ ...NOTHING_ASKED, text: `"${title}"` })} className="underline">
                    {title} <span className="quiet text-sm">({why})</span>
                  </Link>
                ))}
              </span>
            </li>
          ))}
        </ul>
      )}
    </section>
  )
}
