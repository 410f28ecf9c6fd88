import { useState } from 'react'
import type { UsedSoundWire } from '../../../contract'
import { type UsedSound, usedSounds } from '../../../core/score'
import { messages } from '../../../messages'
import { useShell } from '../../api/queries'
import { useUsedSounds } from '../../api/score-queries'
import type { PlaceActions } from '../../score/use-place-actions'
import type { PlaceDesk } from '../../score/use-score-desk'
import { BatchBar } from '../shared/BatchBar'
import { Failed } from '../shared/States'
import { FitMark } from '../shared/VerdictMark'
import { Choice } from './Choice'
import { UsedByMoment } from './UsedByMoment'

const ORDERS = { sound: messages.score.bySound, moment: messages.score.byMoment } as const
type Order = keyof typeof ORDERS
const KINDS = {
  all: messages.common.all,
  effect: messages.score.effects,
  music: messages.common.music,
  open: messages.score.withSomethingOpen,
} as const
type Kind = keyof typeof KINDS

interface UsedProps {
  readonly placeDesk: PlaceDesk
  readonly actions: PlaceActions
}

interface UsedListProps extends UsedProps {
  /** Null while something is not saved. */
  readonly savedRevision: number | null
}

/** Every sound that is placed: how often, whether it may be used in this video, what it owes, what is still to be got. */
export function UsedList({ placeDesk, actions, savedRevision }: UsedListProps) {
  const { score, video } = placeDesk
  const weighed = useUsedSounds(video.id, savedRevision)
  const [kind, setKind] = useState<Kind>('all')
  const [by, setBy] = useState<Order>('sound')
  const [isTaking, setIsTaking] = useState(false)
  const isInHand = useShell().data?.videoInHandId === video.id
  const used = usedSounds(score)
  if (used.length === 0) return null
  const byKey = new Map(weighed.data?.sounds.map((sound) => [sound.key, sound]))
  const sounds = weighed.data?.sounds ?? []
  const missing = sounds.filter(({ how }) => how === 'free' || how === 'buy')
  const missingIds = missing.flatMap(({ soundId }) => (soundId === null ? [] : [soundId]))
  const credits = sounds.filter(({ creditLine }) => creditLine !== null)
  const shown = used.filter(({ key }) => isOfKind(byKey.get(key), kind))
  return (
    <section aria-label={messages.score.whatIsUsed}>
      <header className="mb-1 flex flex-wrap items-baseline gap-x-4">
        <h2 className="text-lg font-semibold">{messages.score.whatIsUsed}</h2>
        <p className="quiet text-sm" data-testid="used-summary">
          {messages.score.of(messages.counts.places(score.placements.length), messages.counts.sounds(used.length))}
          {weighed.data && messages.score.owed(messages.counts.credits(credits.length))}
        </p>
        <Choice className="ml-auto" name={messages.score.listBy} value={by} values={ORDERS} onChange={setBy} />
        {by === 'sound' && <Choice name={messages.score.show} value={kind} values={KINDS} onChange={setKind} />}
      </header>
      {weighed.isError && <Failed error={weighed.error} onRetry={() => void weighed.refetch()} />}
      {by === 'moment' && <UsedByMoment placeDesk={placeDesk} actions={actions} weighed={byKey} />}
      {by === 'sound' && (
        <table className="table table-sm">
          <thead className="text-base-content">
            <tr>
              <th>{messages.common.sound}</th>
              <th>{messages.score.where}</th>
              <th>{messages.score.inThisVideo}</th>
              <th>{messages.common.file}</th>
            </tr>
          </thead>
          <tbody>
            {shown.map((one) => (
              <UsedRow key={one.key} used={one} weighed={byKey.get(one.key)} placeDesk={placeDesk} actions={actions} />
            ))}
          </tbody>
        </table>
      )}
      {by === 'sound' && shown.length === 0 && (
        <p className="quiet py-2 text-sm">{messages.score.noneOfThePlacedSounds}</p>
      )}
      {missing.length > 0 && !isTaking && (
        <p className="mt-2 text-sm">
          {messages.score.stillToBeGotFor(
            messages.counts.files(missing.length),
            weighed.data?.total || messages.score.nothing,
          )}{' '}
          {isInHand ? (
            <button type="button" className="link" onClick={() => setIsTaking(true)}>
              {messages.score.getAllThatIsMissing}
            </button>
          ) : (
            messages.score.takeThisVideoInHand
          )}
        </p>
      )}
      {isTaking && isInHand && missingIds.length > 0 && (
        <BatchBar soundIds={missingIds} onClose={() => setIsTaking(false)} />
      )}
    </section>
  )
}

function isOfKind(sound: UsedSoundWire | undefined, kind: Kind): boolean {
  if (kind === 'all') return true
  return kind === 'open' ? sound?.open != null : sound?.kind === kind
}

interface UsedRowProps extends UsedProps {
  readonly used: UsedSound
  readonly weighed: UsedSoundWire | undefined
}

function UsedRow({ used: { key, audio, placements }, weighed, placeDesk, actions }: UsedRowProps) {
  const { sounds, mix, timecode } = placeDesk
  const title =
    (audio.soundId === null ? undefined : sounds.get(audio.soundId)?.title) ??
    weighed?.title ??
    messages.score.aSoundThatIsNot
  const [first] = placements
  const allMuted = placements.every(({ isMuted }) => isMuted)
  return (
    <tr>
      <td>
        <p>{title}</p>
        {weighed?.creditLine && <p className="quiet max-w-72 truncate text-xs">{weighed.creditLine}</p>}
      </td>
      <td>
        <button
          type="button"
          className="link tabular-nums no-underline"
          onClick={() => actions.focusOn(placements)}
          title={messages.score.chooseItsPlacesAndGo}
        >
          {first && timecode(first.startS)}
        </button>
        {placements.length > 1 && (
          <span className="quiet"> {messages.score.and(messages.counts.morePlaces(placements.length - 1))}</span>
        )}
        <button
          type="button"
          className="link ml-2 text-xs"
          aria-pressed={allMuted}
          aria-label={allMuted ? messages.score.unmuteSound(title) : messages.score.muteSound(title)}
          onClick={() => actions.muteAll(placements, !allMuted)}
        >
          {allMuted ? messages.score.unmute : messages.score.mute}
        </button>
      </td>
      <td>
        {!weighed && <span className="quiet">…</span>}
        {weighed &&
          (weighed.fit ? (
            <FitMark fit={weighed.fit} condition={conditionOf(weighed)} />
          ) : (
            <span>{messages.score.noPapersForThisFile}</span>
          ))}
        {weighed?.open && <p className="max-w-56 text-xs">{weighed.open}</p>}
      </td>
      <td className="quiet">
        {mix.missing.has(key) ? messages.score.itCannotBeHeardIts : weighed ? fileWords(weighed) : ''}
      </td>
    </tr>
  )
}

function fileWords({ how, price, tierTitle }: UsedSoundWire): string {
  switch (how) {
    case 'here':
      return messages.score.here
    case 'free':
      return messages.score.previewADownloadCostsNothing
    case 'buy':
      return messages.score.preview(price, tierTitle ? `, ${tierTitle}` : '')
    case 'not':
      return messages.score.previewNoLongerOffered
  }
}

/** What has to be done before a placed sound may be used. */
function conditionOf({ how, fit }: UsedSoundWire): string {
  if (how === 'here' || (fit !== 'fits' && fit !== 'fits-with-credit')) return ''
  return { free: messages.score.ifDownloaded, buy: messages.score.ifBought, not: messages.score.noLongerOffered }[how]
}
