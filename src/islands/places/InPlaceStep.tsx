import { Link } from 'wouter'
import type { Cut, Video, VideoMoments, VideoScore } from '../../contract'
import { oneThing } from '../../core/score'
import { messages } from '../../messages'
import { useVideoMoments } from '../api/moments-queries'
import { useVideoScore } from '../api/score-queries'
import { CutStage } from '../parts/moments/CutStage'
import { AddLayer } from '../parts/score/AddLayer'
import { AddSound } from '../parts/score/AddSound'
import { FirstLevels } from '../parts/score/FirstLevels'
import { LayerFields } from '../parts/score/LayerFields'
import { MixFiles } from '../parts/score/MixFiles'
import { MixLevelsLine } from '../parts/score/MixLevelsLine'
import { OutAndBack } from '../parts/score/OutAndBack'
import { PlaceMoments } from '../parts/score/PlaceMoments'
import { PlacementFields } from '../parts/score/PlacementFields'
import { RecordSound } from '../parts/score/RecordSound'
import { ScoreMap } from '../parts/score/ScoreMap'
import { UsedList } from '../parts/score/UsedList'
import { VoiceCover } from '../parts/score/VoiceCover'
import { SaveState } from '../parts/shared/SaveState'
import { Empty, Failed, Loading } from '../parts/shared/States'
import { usePlaceActions } from '../score/use-place-actions'
import { usePlaceKeys } from '../score/use-place-keys'
import { useScore } from '../score/use-score'
import { usePlaceDesk } from '../score/use-score-desk'

/** In place: sounds are tried against the picture, at their level, before anything is taken. */
export function InPlaceStep({ video }: { video: Video }) {
  const planned = useVideoMoments(video.id)
  const score = useVideoScore(video.id)
  if (planned.isPending || score.isPending) return <Loading what={messages.score.openingWhatIsPlaced} />
  if (planned.isError) return <Failed error={planned.error} onRetry={() => void planned.refetch()} />
  if (score.isError) return <Failed error={score.error} onRetry={() => void score.refetch()} />
  const { cut } = planned.data
  if (!cut)
    return (
      <Empty
        title={messages.score.noCutYet}
        action={
          <Link className="btn btn-primary" href={`/videos/${video.id}/moments`}>
            {messages.score.goToMoments}
          </Link>
        }
      >
        {messages.score.soundsArePlacedAgainstThe}
      </Empty>
    )
  return <OpenScore key={cut.id} video={video} cut={cut} planned={planned.data} loaded={score.data} />
}

interface OpenScoreProps {
  readonly video: Video
  readonly cut: Cut
  readonly planned: VideoMoments
  readonly loaded: VideoScore
}

function OpenScore({ video, cut, planned, loaded }: OpenScoreProps) {
  const desk = useScore(video.id, loaded)
  const placeDesk = usePlaceDesk(video, cut, planned, desk)
  const actions = usePlaceActions(placeDesk)
  usePlaceKeys(placeDesk, actions)
  const { score, chosen, layerId, refusal, mix } = placeDesk
  const layer = score.layers.find(({ id }) => id === layerId)
  const only = oneThing(chosen)
  const savedRevision = desk.state.isDirty ? null : loaded.revision
  return (
    <>
      <SaveState
        desk={desk}
        what={messages.score.thePlacedSounds}
        leftOver={(count) => messages.score.ofYoursCouldNotBe(messages.counts.changes(count))}
      />
      <div className="grid grid-cols-[20rem_minmax(0,1fr)] gap-6 max-md:grid-cols-1">
        <div>
          <CutStage cut={cut} player={placeDesk.player} />
          <MixLevelsLine mix={mix} />
          <p className="quiet mt-1 text-xs" role="status" data-testid="save-state">
            {desk.state.isDirty ? messages.score.saving : messages.score.saved}
          </p>
        </div>
        <div className="h-72 overflow-y-auto overscroll-contain">
          {(refusal ?? mix.problem) && (
            <p role="alert" className="mb-2 text-sm text-error">
              {refusal ?? mix.problem}
            </p>
          )}
          {only && <PlacementFields key={only.id} placement={only} placeDesk={placeDesk} actions={actions} />}
          {layer && !only && <LayerFields key={layer.id} layer={layer} placeDesk={placeDesk} />}
          {chosen.length > 1 && !only && (
            <p>{messages.score.chosenMoveThemWithAnd(messages.counts.sounds(chosen.length))}</p>
          )}
          {chosen.length === 0 && !layer && <PlaceMoments placeDesk={placeDesk} actions={actions} />}
        </div>
      </div>
      <div className="mt-4">
        <ScoreMap placeDesk={placeDesk} actions={actions} />
        <div className="mt-2 flex flex-wrap gap-2">
          <AddLayer placeDesk={placeDesk} />
          <FirstLevels />
        </div>
        <VoiceCover placeDesk={placeDesk} actions={actions} savedRevision={savedRevision} />
      </div>
      <div className="grid grid-cols-2 gap-10 max-lg:grid-cols-1">
        <AddSound videoId={video.id} actions={actions} />
        <RecordSound placeDesk={placeDesk} actions={actions} />
      </div>
      <div className="mt-6 grid grid-cols-2 gap-10 max-lg:grid-cols-1">
        <UsedList placeDesk={placeDesk} actions={actions} savedRevision={savedRevision} />
        <div>
          <MixFiles placeDesk={placeDesk} loaded={loaded} />
          <OutAndBack placeDesk={placeDesk} actions={actions} savedRevision={savedRevision} />
        </div>
      </div>
    </>
  )
}
