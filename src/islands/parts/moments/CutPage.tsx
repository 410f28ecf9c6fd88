import { useCallback, useRef, useState } from 'react'
import type { Cut, Video, VideoMoments } from '../../../contract'
import type { Moment, ShortListed } from '../../../core/moments'
import { messages } from '../../../messages'
import { useSuggestions } from '../../api/moments-queries'
import { useRemoveCaptions, type useSetCaptions } from '../../api/shelf-queries'
import { cutNotes } from '../../moments/cut-view'
import { type CutActions, type CutDesk, useCutActions, useCutDesk } from '../../moments/use-cut-desk'
import { useCutKeys } from '../../moments/use-cut-keys'
import { useInPlace } from '../../moments/use-in-place'
import type { MomentsDesk } from '../../moments/use-moments'
import { usePictureByBrowser } from '../../moments/use-picture-by-browser'
import { Failed, Loading } from '../shared/States'
import { CaptionFileInput } from '../videos/CaptionFileInput'
import { CarriedNotice } from './CutNotices'
import { CutStage } from './CutStage'
import { ExchangeDialog } from './ExchangeDialog'
import { MomentsMap } from './MomentsMap'
import { MomentsPanel } from './MomentsPanel'
import { PacingChart } from './PacingChart'
import { ReactionField } from './ReactionField'
import { ShortList } from './ShortList'
import { Suggestions } from './Suggestions'

interface CutPageProps {
  readonly video: Video
  readonly cut: Cut
  readonly loaded: VideoMoments
  readonly desk: MomentsDesk
  readonly captions: ReturnType<typeof useSetCaptions>
  readonly onBring: () => void
}

/** A cut with its moments: the map, the picture, the list, the short list of the chosen one, suggestions and pacing. */
export function CutPage({ video, cut, loaded, desk, captions, onBring }: CutPageProps) {
  const cutDesk = useCutDesk(video, cut, loaded, desk)
  const actions = useCutActions(cutDesk)
  const inPlace = useInPlace(cutDesk.player)
  const [isExchanging, setExchanging] = useState(false)
  usePictureByBrowser(cut, video.id)
  const hearables = useRef<readonly (() => void)[]>([])
  const setHearables = useCallback((hear: readonly (() => void)[]) => {
    hearables.current = hear
  }, [])
  useCutKeys(cutDesk, actions, hearables)
  const { moments, current, chosen, timecode, document, rate, drop, durationS } = cutDesk
  const setShortList = (
    of: Moment,
    to: (list: readonly ShortListed[]) => readonly ShortListed[],
    words: string,
  ): void => actions.change([of.id], ({ shortList }) => ({ shortList: to(shortList) }), words)
  return (
    <>
      <CarriedNotice cut={cut} moments={moments} timecode={timecode} onChoose={cutDesk.chooseOne} />
      {cutNotes(cut).map((words) => (
        <p key={words} className="quiet mb-1 text-sm">
          {words}
        </p>
      ))}
      <MomentsMap cutDesk={cutDesk} actions={actions} />
      <div className="mt-3 grid grid-cols-[20rem_minmax(0,1fr)] gap-6 max-md:grid-cols-1">
        <PictureColumn cutDesk={cutDesk} actions={actions} />
        <MomentsPanel cutDesk={cutDesk} actions={actions} onExchange={() => setExchanging(true)} onBring={onBring} />
      </div>
      {current && chosen.length === 1 && (
        <div className="mt-3 rounded border ruled">
          <ShortList
            key={current.id}
            moment={current}
            place={cutDesk.placeOf(current)}
            inPlace={inPlace}
            onPick={(soundId) => actions.change([current.id], () => ({ soundId }), messages.moments.pickASound)}
            onRemove={(soundId) =>
              setShortList(
                current,
                (list) => list.filter((one) => one.soundId !== soundId),
                messages.moments.takeOffTheShortList,
              )
            }
            onReason={(soundId, reason) =>
              setShortList(
                current,
                (list) => list.map((one) => (one.soundId === soundId ? { ...one, reason } : one)),
                messages.moments.sayWhy,
              )
            }
            onHearable={setHearables}
          />
        </div>
      )}
      <Below cutDesk={cutDesk} actions={actions} captions={captions} />
      {isExchanging && (
        <ExchangeDialog
          videoId={video.id}
          document={document}
          context={{ title: video.title, rate, drop, durationS }}
          onImport={(edit, words) => desk.edit(edit, words)}
          onClose={() => setExchanging(false)}
        />
      )}
    </>
  )
}

interface PartProps {
  readonly cutDesk: CutDesk
  readonly actions: CutActions
}

/** The picture, with the button that notes where it stands. */
function PictureColumn({ cutDesk, actions }: PartProps) {
  const { cut, player, part, noting, timecode } = cutDesk
  return (
    <div>
      <CutStage cut={cut} player={player} />
      <div className="mt-2 flex flex-wrap items-center gap-2">
        <button type="button" className="btn btn-primary btn-sm" aria-keyshortcuts="n" onClick={actions.note}>
          {part ? messages.moments.noteTheMarkedPart : messages.moments.noteAMoment} <kbd className="kbd kbd-xs">N</kbd>
        </button>
        <ReactionField noting={noting} />
      </div>
      {part && (
        <p className="mt-1 text-sm" data-testid="marked-part">
          {messages.moments.markedTo(timecode(part.startS), timecode(part.endS))}
          <button
            type="button"
            className="btn btn-ghost btn-xs ml-2"
            aria-pressed={player.isLooping}
            onClick={() => player.setLooping(!player.isLooping)}
          >
            {player.isLooping ? messages.moments.stopLooping : messages.moments.loop}
          </button>
        </p>
      )}
    </div>
  )
}

/** Below the list: what may be wanted, and how crowded it is. */
function Below({ cutDesk, actions, captions }: PartProps & { readonly captions: CutPageProps['captions'] }) {
  const { video, loaded, desk, document, durationS, timecode, player, paced } = cutDesk
  const suggestions = useSuggestions(video.id, loaded.revision)
  const removeCaptions = useRemoveCaptions(video.id)
  const captionRef = useRef<HTMLInputElement>(null)
  return (
    <div className="mt-6 grid grid-cols-2 gap-10 max-lg:grid-cols-1">
      {suggestions.isError && <Failed error={suggestions.error} onRetry={() => void suggestions.refetch()} />}
      {suggestions.isPending && <Loading what={messages.moments.lookingForWhatTheCut} />}
      {suggestions.data && (
        <Suggestions
          list={suggestions.data}
          timecode={timecode}
          onGo={player.seek}
          onTake={actions.takeSuggestion}
          onDismiss={(some) => actions.dismiss([...some])}
          onCaptions={() => captionRef.current?.click()}
          onRemoveCaptions={() => removeCaptions.mutate()}
        />
      )}
      <PacingChart
        pacing={paced}
        durationS={durationS}
        crowdedPerMinute={document.crowdedPerMinute}
        timecode={timecode}
        onGo={player.seek}
        onCrowded={(perMinute) => desk.edit({ do: 'crowded-from', perMinute }, messages.moments.setWhatIsCrowded)}
      />
      <CaptionFileInput inputRef={captionRef} onFile={(file) => captions.mutate(file)} />
    </div>
  )
}
