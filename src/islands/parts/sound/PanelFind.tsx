import { AudioLines, Bookmark, ShieldCheck, User } from 'lucide-react'
import { useLocation } from 'wouter'
import type { SoundDetail } from '../../../contract'
import { messages } from '../../../messages'
import { useFindLikePart } from '../../api/find-queries'
import { useKeep, useShelf, useToggleKept } from '../../api/shelf-queries'
import { usePlayer } from '../../audio/player'
import { addressOf, type FindState, NOTHING_ASKED } from '../../state/find-state'
import { CopyButton } from '../shared/CopyButton'
import { Menu } from '../shared/Menu'

/** Keeping the sound, and the ways from it to others: alike, alike and allowed, like the marked part, by the same maker. */
export function PanelFind({ sound, onFind }: { sound: SoundDetail; onFind: ((state: FindState) => void) | undefined }) {
  const [, navigate] = useLocation()
  const find = onFind ?? ((state: FindState) => navigate(addressOf(state)))
  const player = usePlayer()
  const likePart = useFindLikePart(find)
  const part = player.sound?.id === sound.id ? player.part : null
  const like = `sound:${sound.id}`
  return (
    <section aria-label={messages.sound.keepAndFind} className="space-y-2">
      <div className="flex flex-wrap gap-1.5">
        <KeepButton sound={sound} />
        <CopyButton
          text={new URL(addressOf({ ...NOTHING_ASKED, text: `"${sound.title}"` }), location.href).href}
          label={messages.sound.copyLink}
        />
        {sound.papers[0]?.creditLine && (
          <CopyButton text={sound.papers[0].creditLine} label={messages.sound.copyCredit} />
        )}
      </div>
      {sound.print && (
        <ul className="space-y-0.5">
          <Way icon={<AudioLines size={15} aria-hidden="true" />} onClick={() => find({ ...NOTHING_ASKED, like })}>
            {messages.sound.soundsLikeThis}
          </Way>
          {sound.fit !== null && (
            <Way
              icon={<ShieldCheck size={15} aria-hidden="true" />}
              onClick={() =>
                find({ ...NOTHING_ASKED, like, filters: [{ kind: 'fit', fits: ['fits', 'fits-with-credit'] }] })
              }
            >
              {messages.sound.alikeAndAllowedInThis}
            </Way>
          )}
          {part && (
            <Way
              icon={<AudioLines size={15} aria-hidden="true" />}
              onClick={() => likePart.findLike({ soundId: sound.id, ...part })}
            >
              {messages.sound.soundsLikeTheMarkedPart}
            </Way>
          )}
          {sound.maker && (
            <Way
              icon={<User size={15} aria-hidden="true" />}
              onClick={() => find({ ...NOTHING_ASKED, filters: [{ kind: 'maker', names: [sound.maker] }] })}
            >
              {messages.sound.moreBy(sound.maker)}
            </Way>
          )}
        </ul>
      )}
      {part && sound.copy && (
        <a
          className="btn btn-sm"
          href={`/api/copies/${sound.copy.sha256}/part?${new URLSearchParams({ fromS: String(part.startS), toS: String(part.endS) })}`}
          download
        >
          {messages.sound.saveTheMarkedPart}
        </a>
      )}
      {likePart.error && (
        <p role="alert" className="text-error">
          {likePart.error.message}
        </p>
      )}
    </section>
  )
}

function Way({ icon, onClick, children }: { icon: React.ReactNode; onClick: () => void; children: React.ReactNode }) {
  return (
    <li>
      <button
        type="button"
        className="flex w-full items-center gap-2 rounded px-1 py-0.5 text-left underline decoration-from-font underline-offset-2 hover:bg-base-300"
        onClick={onClick}
      >
        {icon}
        <span>{children}</span>
      </button>
    </li>
  )
}

/** Keeps the sound, at once or with a note and in a collection. */
function KeepButton({ sound }: { sound: SoundDetail }) {
  const toggleKept = useToggleKept()
  return (
    <span className="flex">
      <button type="button" className="btn btn-sm" aria-pressed={sound.kept} onClick={() => toggleKept(sound)}>
        <Bookmark size={15} fill={sound.kept ? 'currentColor' : 'none'} aria-hidden="true" />
        {sound.kept ? messages.common.kept : messages.sound.keep}
      </button>
      <Menu label={messages.sound.in} name={messages.sound.keepWithANoteIn} side="right">
        {(close) => <KeepWith sound={sound} onDone={close} />}
      </Menu>
    </span>
  )
}

function KeepWith({ sound, onDone }: { sound: SoundDetail; onDone: () => void }) {
  const shelf = useShelf()
  const keep = useKeep()
  const kept = shelf.data?.sounds.find(({ id }) => id === sound.id)
  return (
    <form
      className="w-64 space-y-2"
      onSubmit={(event) => {
        event.preventDefault()
        const form = new FormData(event.currentTarget)
        const collectionId = Number(form.get('collection'))
        const note = String(form.get('note') ?? '')
        keep.mutate({ id: sound.id, note, ...(collectionId > 0 ? { collectionId } : {}) }, { onSuccess: onDone })
      }}
    >
      <label className="block">
        <span className="small-label block">{messages.common.note}</span>
        <input name="note" className="input input-sm w-full" maxLength={500} defaultValue={kept?.note ?? ''} />
      </label>
      <label className="block">
        <span className="small-label block">{messages.sound.whichCollection}</span>
        <select name="collection" className="select select-sm w-full" defaultValue="0">
          <option value="0">{messages.sound.none}</option>
          {shelf.data?.collections.map(({ id, name }) => (
            <option key={id} value={id}>
              {name}
            </option>
          ))}
        </select>
      </label>
      {keep.error && (
        <p role="alert" className="text-error">
          {keep.error.message}
        </p>
      )}
      <button type="submit" className="btn btn-sm btn-primary">
        {messages.sound.keepIt}
      </button>
    </form>
  )
}
