import type { VideoStateWire } from '../../../contract'
import { stateInWords } from '../../../core/clearance'
import { ShapeMark } from './VerdictMark'

/** Shape of each state: what is known to be in order is full, what is owed half, what is open barred, what is not known dotted. */
function shapeOf(state: VideoStateWire): 'dotted' | 'barred' | 'half' | 'disc' {
  if (state.kind === 'points-open') return 'barred'
  if (state.kind !== 'ready') return 'dotted'
  return state.credits > 0 || state.accepted.length > 0 ? 'half' : 'disc'
}

/** The state of a video, as every place shows it. */
export function VideoStateMark({ state, short = false }: { state: VideoStateWire; short?: boolean }) {
  const words = stateInWords(state)
  return (
    <span
      className={`inline-flex items-center gap-1.5 text-sm ${short ? 'max-w-56 shrink-0' : ''}`}
      title={words}
      data-video-state={state.kind}
    >
      <ShapeMark shape={shapeOf(state)} sizePx={13} />
      <span className={short ? 'truncate' : ''}>{words}</span>
    </span>
  )
}
