import { type ChangeEvent, useRef, useState } from 'react'
import type { ScoreImported } from '../../../contract'
import { usePlannedHeard, useReadScoreList, useUsedSounds } from '../../api/score-queries'
import { counted } from '../../format/words'
import type { PlaceActions } from '../../score/use-place-actions'
import type { PlaceDesk } from '../../score/use-score-desk'

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
    <section aria-label="Export and import" className="mt-4">
      <ForEditing {...props} />
      <FromList {...props} />
      <FromHeard {...props} />
    </section>
  )
}

/** Files for an editing program. What has no ground is said before anything goes out. */
function ForEditing({ placeDesk: { video, score, desk }, savedRevision }: OutAndBackProps) {
  const dialog = useRef<HTMLDialogElement>(null)
  const used = useUsedSounds(video.id, savedRevision)
  const open = used.data?.sounds.flatMap((sound) => (sound.open === null ? [] : [sound.open])) ?? []
  const list = (as: string): string => `/api/videos/${video.id}/score-list?as=${as}`
  return (
    <>
      <h3 className="font-semibold">For an editing program</h3>
      <button
        type="button"
        className="btn btn-sm mt-1"
        disabled={score.placements.length === 0}
        onClick={() => void desk.store.flush().then(() => dialog.current?.showModal())}
      >
        Save the files and lists
      </button>
      <dialog ref={dialog} className="modal" aria-labelledby="out-title">
        <div className="modal-box max-w-xl">
          <h2 id="out-title" className="text-lg font-semibold">
            Save for an editing program
          </h2>
          <p className="mt-2" data-testid="open-count">
            {used.isPending && 'Weighing what is placed …'}
            {used.isError && `What is open could not be found out: ${used.error.message}`}
            {used.data &&
              (open.length === 0
                ? 'Papers on file allow every placed sound in this video.'
                : `${counted(open.length, 'point')} open. What goes out is marked so in the cue sheet.`)}
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
                Everything in one archive
              </a>
              <span className="quiet text-sm"> files, both lists, cue sheet, credits, papers</span>
            </li>
            <li>
              <a className="link" href={list('otio')} download>
                Timeline (OTIO)
              </a>
            </li>
            <li>
              <a className="link" href={list('edl')} download>
                Edit list (EDL)
              </a>
            </li>
            <li>
              <a className="link" href={list('csv')} download>
                Cue sheet (CSV)
              </a>
            </li>
          </ul>
          <div className="modal-action">
            <form method="dialog">
              <button type="submit" className="btn">
                Close
              </button>
            </form>
          </div>
        </div>
      </dialog>
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
    setProblem(file.size > LIST_MAX_BYTES ? 'The list is larger than 8 MB.' : null)
    if (file.size > LIST_MAX_BYTES) return
    const text = await file.text()
    await desk.store.flush()
    read.mutate({ text })
  }
  return (
    <>
      <label className="mt-4 block">
        <span className="font-semibold">Back from an editing program</span>
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
            Place {counted(read.data.placements.length, 'sound')}
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
        {counted(read.placements.length, 'sound')} can be placed
        {read.layers.length > 0 && `, on ${counted(read.layers.length, 'new layer')}`}.{nameWords(read)}
      </p>
      {read.unmatched.length > 0 && (
        <>
          <p className="mt-1">
            {counted(read.unmatched.length, 'clip')} could not be matched with a sound that is known here:
          </p>
          <ul className="max-h-32 list-disc overflow-y-auto pl-5">
            {read.unmatched.map(({ name, startS }) => (
              <li key={`${startS} ${name}`}>
                {timecode(startS)} {name}
              </li>
            ))}
          </ul>
        </>
      )}
      {read.leftOut.length > 0 && <p className="quiet mt-1">Left out: {read.leftOut.join(' ')}</p>}
    </>
  )
}

/** Names can be those of another file: that is said. */
function nameWords({ matched }: ScoreImported): string {
  const byName = Object.values(matched).filter((how) => how === 'name').length
  return byName === 0 ? '' : ` ${counted(byName, 'of them is', 'of them are')} matched by the file name alone.`
}

/** What was heard in the finished video, held against what is placed. */
function FromHeard({ placeDesk: { video, score, timecode }, actions, savedRevision }: OutAndBackProps) {
  const found = usePlannedHeard(video.id, savedRevision)
  if (!found.data || found.data.checkId === null) return null
  const { both, heardOnly, plannedOnly, isSamePlan, mutedCount } = found.data
  if (both.length + heardOnly.length + plannedOnly.length === 0) return null
  return (
    <div className="mt-4 text-sm" data-testid="planned-heard">
      <h3 className="text-base font-semibold">Planned and heard</h3>
      <p>
        In the finished video {both.length} of {counted(score.placements.length, 'placed sound')} can be heard
        {heardOnly.length > 0 && `, and ${counted(heardOnly.length, 'place')} that nobody planned`}.
        {mutedCount > 0 && ` ${counted(mutedCount, 'muted sound is', 'muted sounds are')} not heard, as it should be.`}
        {isSamePlan === false && <span className="quiet"> What is placed was changed since that check.</span>}
      </p>
      {plannedOnly.length > 0 && (
        <p className="mt-1">
          Not heard: {plannedOnly.map(({ title, plannedS }) => `${title} (${timecode(plannedS)})`).join(', ')}.
        </p>
      )}
      {heardOnly.length > 0 && (
        <>
          <p className="mt-1">
            Not planned: {heardOnly.map(({ title, startS }) => `${title} (${timecode(startS)})`).join(', ')}.
          </p>
          <button type="button" className="btn btn-sm mt-1" onClick={() => actions.addHeard(heardOnly)}>
            Place what was heard
          </button>
        </>
      )}
    </div>
  )
}
