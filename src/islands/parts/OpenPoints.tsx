import type { Video } from '../../contract'
import { ShapeMark } from './VerdictMark'

/** The small meter of a video: how far its check is, and how many points are open. */
export function OpenPoints({ check }: { check: Video['check'] }) {
  if (!check) return <Meter shape="dotted" words="not checked" />
  if (check.state === 'waiting' || check.state === 'running') return <Meter shape="dotted" words="listening" />
  if (check.state !== 'done' || check.openPoints === null) return <Meter shape="dotted" words="check broke off" />
  if (check.openPoints > 0) return <Meter shape="barred" words={`${check.openPoints} open`} />
  if (check.credits) return <Meter shape="half" words={`${check.credits} to credit`} />
  return <Meter shape="disc" words="clear" />
}

function Meter({ shape, words }: { shape: 'dotted' | 'barred' | 'half' | 'disc'; words: string }) {
  return (
    <span className="inline-flex shrink-0 items-center gap-1.5 text-sm">
      <ShapeMark shape={shape} sizePx={13} />
      {words}
    </span>
  )
}
