import { LEVEL_TO_VOICE_LU, type LevelsToVoice } from '../../../core/mix'
import type { MomentKind } from '../../../core/moments'
import { messages } from '../../../messages'
import { useChangeShell, useShell } from '../../api/queries'
import { KIND_WORDS } from '../../format/moment-words'
import { Menu } from '../shared/Menu'
import { NumberField } from './NumberField'

/** Silence is not placed. */
const KINDS = (Object.keys(LEVEL_TO_VOICE_LU) as MomentKind[]).filter((kind) => kind !== 'silence')

/** The levels at which sounds of each kind are first placed, to be set once for all videos. */
export function FirstLevels() {
  const levels = useShell().data?.levelsToVoiceLu
  const change = useChangeShell()
  if (!levels) return null
  const isUsual = KINDS.every((kind) => levels[kind] === LEVEL_TO_VOICE_LU[kind])
  const set = (next: LevelsToVoice | null): void => change.mutate({ levelsToVoiceLu: next && { ...next } })
  return (
    <Menu label={messages.score.firstLevels} active={!isUsual} className="btn btn-sm">
      {() => (
        <div className="w-72 space-y-2 text-sm">
          <p>{messages.score.howLoudASoundIs}</p>
          <div className="grid grid-cols-2 gap-2">
            {KINDS.map((kind) => (
              <NumberField
                key={kind}
                label={KIND_WORDS[kind]}
                value={levels[kind]}
                step={1}
                onChange={(value) => set({ ...levels, [kind]: value })}
              />
            ))}
          </div>
          {change.isError && (
            <p role="alert" className="text-error">
              {change.error.message}
            </p>
          )}
          {!isUsual && (
            <button type="button" className="btn btn-xs" onClick={() => set(null)}>
              {messages.score.useTheUsualLevels}
            </button>
          )}
        </div>
      )}
    </Menu>
  )
}
