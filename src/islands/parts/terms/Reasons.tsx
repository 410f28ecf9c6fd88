import type { ReasonWire } from '../../../contract'
import { CLAUSE_WORDS } from '../../../core/rights'
import { ShapeMark } from '../shared/VerdictMark'

const EFFECT_SHAPES = { bars: 'barred', unstated: 'dotted', asks: 'half', allows: 'disc' } as const

/** Reasons of a decision, clause by clause, each with the words it rests on. */
export function Reasons({ reasons }: { reasons: readonly ReasonWire[] }) {
  return (
    <ul className="space-y-2.5">
      {reasons.map((reason) => (
        <li key={reason.key} className="grid grid-cols-[1rem_1fr] gap-2">
          <span className="pt-1">
            <ShapeMark shape={EFFECT_SHAPES[reason.effect]} sizePx={12} />
          </span>
          <div className="min-w-0">
            <p className="leading-snug">
              <span className="small-label">{CLAUSE_WORDS[reason.key]}. </span>
              {reason.sentence}
            </p>
            {reason.quote && <Quote text={reason.quote} />}
          </div>
        </li>
      ))}
    </ul>
  )
}

/** Words of the terms. */
export function Quote({ text }: { text: string }) {
  return (
    <blockquote
      className="mt-0.5 border-l-2 border-base-content/30 pl-2 text-sm leading-snug"
      style={{ color: 'var(--quiet)' }}
    >
      “{text}”
    </blockquote>
  )
}
