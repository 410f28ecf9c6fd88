import { type ChangeEvent, useState } from 'react'
import type { ScoreImported } from '../../../contract'
import { messages } from '../../../messages'
import { usePlannedHeard, useReadScoreList, useUsedSounds } from '../../api/score-queries'
import type { PlaceActions } from '../../score/use-place-actions'
import type { PlaceDesk } from '../../score/use-score-desk'
import { DialogActions, DialogTitle, ModalDialog } from '../shared/ModalDialog'

/** Largest list that is read, bytes. */
const LIST_MAX_BYTES = 8_000_000

interface OutAndBackProps {
  /** Of the score; null while something is not saved. */
  readonly savedRevision: number | null
  readonly placeDesk: PlaceDesk
  readonly actions: PlaceActions
}

/** What is placed goes to an editing program and comes back from one, and from what was heard. */
export function OutAndBack(props: OutAndBackProps) {
  return (
    <section aria-label={messages.score.exportAndImport} className="mt-4">
      <ForEditing {...props} />
      <FromList {...props} />
      <FromHeard {...props} />
    </section>
  )
}

/** Files for an editing program. What has no ground is said before anything goes out. */
function ForEditing({ placeDesk: { video, score, desk }, savedRevision }: OutAndBackProps) {
  const [isOpen, setIsOpen] = useState(false)
  const used = useUsedSounds(video.id, savedRevision)
  const open = used.data?.sounds.flatMap((sound) => (sound.open === null ? [] : [sound.open])) ?? []
  const list = (as: string): string => `/api/videos/${video.id}/score-list?as=${as}`
  return (
    <>
      <h3 className="font-semibold">{messages.score.forAnEditingProgram}</h3>
      <button
        type="button"
        className="btn btn-sm mt-1"
        disabled={score.placements.length === 0}
        onClick={() => void desk.store.flush().then(() => setIsOpen(true))}
      >
        {messages.score.saveTheFilesAndLists}
      </button>
      {isOpen && (
        <ModalDialog className="max-w-xl" onClose={() => setIsOpen(false)}>
          <DialogTitle className="">{messages.score.saveForAnEditingProgram}</DialogTitle>
          <p className="mt-2" data-testid="open-count">
            {used.isPending && messages.score.weighingWhatIsPlaced}
            {used.isError && messages.score.whatIsOpenCouldNot(used.error.message)}
            {used.data &&
              (open.length === 0
                ? messages.score.papersOnFileAllowEvery
                : messages.score.openWhatGoesOutIs(messages.counts.points(open.length)))}
          </p>
          {open.length > 0 && (
            <ul className="mt-2 list-disc space-y-1 pl-5 text-sm">
              {open.map((line) => (
                <li key={line}>{line}</li>
              ))}
            </ul>
          )}
          <ul className="mt-4 space-y-1">
            <li>
              <a className="link" href={`/api/videos/${video.id}/score-package`} download>
                {messages.score.everythingInOneArchive}
              </a>
              <span className="quiet text-sm"> {messages.score.filesBothListsCueSheet}</span>
            </li>
            <li>
              <a className="link" href={list('otio')} download>
                {messages.score.timelineOtio}
              </a>
            </li>
            <li>
              <a className="link" href={list('edl')} download>
                {messages.score.editListEdl}
              </a>
            </li>
            <li>
              <a className="link" href={list('csv')} download>
                {messages.score.cueSheetCsv}
              </a>
            </li>
          </ul>
          <DialogActions leaveBy="close" onLeave={() => setIsOpen(false)} />
        </ModalDialog>
      )}
    </>
  )
}

/** A list from an editing program: what of it can be placed is shown before it is. */
function FromList({ placeDesk: { video, timecode, desk }, actions }: OutAndBackProps) {
  const read = useReadScoreList(video.id)
  const [problem, setProblem] = useState<string | null>(null)
  const choose = async ({ target }: ChangeEvent<HTMLInputElement>): Promise<void> => {
    const file = target.files?.[0]
    target.value = ''
    read.reset()
    if (!file) return
    setProblem(file.size > LIST_MAX_BYTES ? messages.score.theListIsLargerThan : null)
    if (file.size > LIST_MAX_BYTES) return
    const text = await file.text()
    await desk.store.flush()
    read.mutate({ text })
  }
  return (
    <>
      <label className="mt-4 block">
        <span className="font-semibold">{messages.score.backFromAnEditingProgram}</span>
        <input
          type="file"
          accept=".otio,.edl,.json,.txt"
          className="file-input file-input-sm mt-1 block"
          onChange={(event) => void choose(event)}
        />
      </label>
      {(problem ?? read.error?.message) && (
        <p role="alert" className="mt-1 text-sm text-error">
          {problem ?? read.error?.message}
        </p>
      )}
      {read.data && (
        <div className="mt-2 text-sm" data-testid="list-read">
          <ReadWords read={read.data} timecode={timecode} />
          <button
            type="button"
            className="btn btn-primary btn-sm mt-2"
            disabled={read.data.placements.length === 0}
            onClick={() => {
              if (actions.addRead(read.data)) read.reset()
            }}
          >
            {messages.score.placeSounds(messages.counts.sounds(read.data.placements.length))}
          </button>
        </div>
      )}
    </>
  )
}

function ReadWords({ read, timecode }: { read: ScoreImported; timecode: (atS: number) => string }) {
  return (
    <>
      <p>
        {messages.score.canBePlaced(messages.counts.sounds(read.placements.length))}
        {read.layers.length > 0 && messages.score.on(messages.counts.newLayers(read.layers.length))}.{nameWords(read)}
      </p>
      {read.unmatched.length > 0 && (
        <>
          <p className="mt-1">{messages.score.couldNotBeMatchedWith(messages.counts.clips(read.unmatched.length))}</p>
          <ul className="max-h-32 list-disc overflow-y-auto pl-5">
            {read.unmatched.map(({ name, startS }) => (
              <li key={`${startS} ${name}`}>
                {timecode(startS)} {name}
              </li>
            ))}
          </ul>
        </>
      )}
      {read.leftOut.length > 0 && <p className="quiet mt-1">{messages.score.leftOut(read.leftOut.join(' '))}</p>}
    </>
  )
}

/** Names can be those of another file: that is said. */
function nameWords({ matched }: ScoreImported): string {
  const byName = Object.values(matched).filter((how) => how === 'name').length
  return byName === 0 ? '' : messages.score.matchedByTheFileName(messages.counts.ofThemAre(byName))
}

/** What was heard in the finished video, held against what is placed. */
function FromHeard({ placeDesk: { video, score, timecode }, actions, savedRevision }: OutAndBackProps) {
  const found = usePlannedHeard(video.id, savedRevision)
  if (!found.data || found.data.checkId === null) return null
  const { both, heardOnly, plannedOnly, isSamePlan, mutedCount } = found.data
  if (both.length + heardOnly.length + plannedOnly.length === 0) return null
  return (
    <div className="mt-4 text-sm" data-testid="planned-heard">
      <h3 className="text-base font-semibold">{messages.score.plannedAndHeard}</h3>
      <p>
        {messages.score.inTheFinishedVideoOf(both.length, messages.counts.placedSounds(score.placements.length))}
        {heardOnly.length > 0 && messages.score.andThatNobodyPlanned(messages.counts.places(heardOnly.length))}.
        {mutedCount > 0 && messages.score.notHeardAsItShould(messages.counts.mutedSoundsAre(mutedCount))}
        {isSamePlan === false && <span className="quiet"> {messages.score.whatIsPlacedWasChanged}</span>}
      </p>
      {plannedOnly.length > 0 && (
        <p className="mt-1">
          {messages.score.notHeard(
            plannedOnly.map(({ title, plannedS }) => `${title} (${timecode(plannedS)})`).join(', '),
          )}
        </p>
      )}
      {heardOnly.length > 0 && (
        <>
          <p className="mt-1">
            {messages.score.notPlanned(
              heardOnly.map(({ title, startS }) => `${title} (${timecode(startS)})`).join(', '),
            )}
          </p>
          <button type="button" className="btn btn-sm mt-1" onClick={() => actions.addHeard(heardOnly)}>
            {messages.score.placeWhatWasHeard}
          </button>
        </>
      )}
    </div>
  )
}
