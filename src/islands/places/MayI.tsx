import { useState } from 'react'
import { Link } from 'wouter'
import { FRESH_USES, type MayIAnswer, type SoundSummary, type UsesWire } from '../../contract'
import { messages } from '../../messages'
import { useMayI } from '../api/papers-queries'
import { useVideos } from '../api/queries'
import { dayHere } from '../format/words'
import { PapersNav } from '../parts/papers/PapersNav'
import { CopyButton } from '../parts/shared/CopyButton'
import { OnTheWordOf } from '../parts/shared/OnTheWordOf'
import { SoundPicker } from '../parts/shared/SoundPicker'
import { Failed, Loading } from '../parts/shared/States'
import { UsePlaces } from '../parts/shared/UsePlaces'
import { VerdictMark } from '../parts/shared/VerdictMark'
import { Reasons } from '../parts/terms/Reasons'

const TODAY = dayHere(new Date())

/** May I? Pick a sound and a use, get the answer with its reasons. */
export function MayI() {
  const [sound, setSound] = useState<SoundSummary | null>(null)
  const [uses, setUses] = useState<UsesWire>({ ...FRESH_USES, publishOn: TODAY })
  const [videoId, setVideoId] = useState<number | null>(null)
  const videos = useVideos().data?.videos ?? []
  const answer = useMayI(sound?.id ?? null, uses, videoId)
  return (
    <div className="relative h-full overflow-y-auto">
      <PapersNav />
      <div className="mx-auto grid max-w-6xl gap-x-10 gap-y-6 px-8 pt-2 pb-10 lg:grid-cols-[24rem_1fr]">
        <section aria-label={messages.papers.theQuestion} className="space-y-5">
          <SoundPicker sound={sound} onPick={setSound} />
          <label className="block">
            <span className="small-label block">{messages.papers.forWhichVideo}</span>
            <select
              className="select w-full"
              value={videoId ?? ''}
              onChange={(event) => {
                const video = videos.find(({ id }) => id === Number(event.target.value))
                setVideoId(video?.id ?? null)
                if (video) setUses(video.uses)
              }}
            >
              <option value="">{messages.papers.noneYetIOnlyAsk}</option>
              {videos.map(({ id, title }) => (
                <option key={id} value={id}>
                  {title}
                </option>
              ))}
            </select>
          </label>
          <UsesPicker uses={uses} onChange={setUses} />
        </section>
        <section aria-label={messages.papers.theAnswer} aria-live="polite">
          {!sound && (
            <div className="max-w-md pt-1">
              <h2 className="mb-2 text-2xl font-semibold">{messages.papers.mayI}</h2>
              <p className="quiet">{messages.papers.chooseASoundAndSay}</p>
            </div>
          )}
          {sound && uses.places.length === 0 && <p className="text-error">{messages.papers.chooseAtLeastOnePlace}</p>}
          {sound && answer.isPending && uses.places.length > 0 && <Loading what={messages.papers.weighingTheTerms} />}
          {answer.isError && <Failed error={answer.error} onRetry={() => void answer.refetch()} />}
          {sound && answer.data && <Answer sound={sound} answer={answer.data} />}
        </section>
      </div>
    </div>
  )
}

function UsesPicker({ uses, onChange }: { uses: UsesWire; onChange: (uses: UsesWire) => void }) {
  return (
    <>
      <UsePlaces places={uses.places} columns="grid-cols-2" onChange={(places) => onChange({ ...uses, places })} />
      <label className="flex items-center gap-3">
        <input
          type="checkbox"
          className="toggle toggle-sm"
          checked={uses.earns}
          onChange={(event) => onChange({ ...uses, earns: event.target.checked })}
        />
        {messages.papers.theVideoEarns}
      </label>
      <label className="block">
        <span className="small-label block">{messages.papers.firstPublishedOn}</span>
        <input
          type="date"
          className="input w-full"
          value={uses.publishOn ?? ''}
          onChange={(event) => onChange({ ...uses, publishOn: event.target.value || null })}
        />
      </label>
    </>
  )
}

function Answer({ sound, answer }: { sound: SoundSummary; answer: MayIAnswer }) {
  const { verdict, onFile, reasons, settlements, creditLine, terms } = answer
  return (
    <div className="space-y-5">
      <header>
        <p className="quiet">{sound.title}</p>
        <h2 className="text-2xl">
          <VerdictMark verdict={verdict} sizePx={22} />
        </h2>
        <p className="mt-1">
          {onFile ? messages.papers.byThePapersOnFile : messages.papers.nothingIsOnFileWhat}
          <Link href={`/papers/terms/${terms.id}`} className="underline underline-offset-2">
            {messages.papers.versionOfTerms(terms.title, terms.version)}
          </Link>
          {answer.declared && (
            <>
              . <OnTheWordOf declared={answer.declared} />
            </>
          )}
        </p>
      </header>
      {settlements.length > 0 && (
        <section>
          <h3 className="mb-1.5 border-b ruled pb-1 font-semibold">{messages.common.whatWouldSettleIt}</h3>
          <ol className="list-decimal space-y-0.5 pl-5">
            {settlements.map((sentence) => (
              <li key={sentence}>{sentence}</li>
            ))}
          </ol>
        </section>
      )}
      {creditLine && (
        <div className="rounded border ruled bg-base-200 p-3">
          <p className="break-words text-sm">{creditLine}</p>
          <CopyButton text={creditLine} label={messages.papers.copyTheCredit} />
        </div>
      )}
      <section>
        <h3 className="mb-2 border-b ruled pb-1 font-semibold">{messages.papers.why}</h3>
        <Reasons reasons={reasons} />
      </section>
    </div>
  )
}
