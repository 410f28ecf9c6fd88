import type { SoundSummary, VerdictWire } from '../../../contract'
import { FIT_WORDS, VERDICT_WORDS } from '../../format/words'

type Shape = 'disc' | 'half' | 'hollow' | 'barred' | 'dotted'

/** Shape of each verdict, wherever it is drawn. */
export const VERDICT_SHAPES = {
  clear: 'disc',
  'owes-credit': 'half',
  'no-papers': 'hollow',
  'not-allowed': 'barred',
} as const satisfies Record<VerdictWire, Shape>
const SHAPE_COLOURS: Readonly<Record<Shape, string>> = {
  disc: 'var(--color-success)',
  half: 'var(--color-warning)',
  hollow: 'var(--color-error)',
  barred: 'var(--color-error)',
  dotted: 'var(--quiet)',
}

/** The shape of a verdict; the word stands beside it, since shape and word come before colour. */
export function ShapeMark({ shape, sizePx = 14 }: { shape: Shape; sizePx?: number }) {
  const colour = SHAPE_COLOURS[shape]
  const common = { fill: 'none', stroke: colour, strokeWidth: 2 }
  return (
    <svg width={sizePx} height={sizePx} viewBox="0 0 16 16" aria-hidden="true" className="inline-block shrink-0">
      {shape === 'disc' && <circle cx="8" cy="8" r="6.5" fill={colour} />}
      {shape === 'half' && (
        <>
          <circle cx="8" cy="8" r="6.5" {...common} />
          <path d="M8 1.5a6.5 6.5 0 0 0 0 13z" fill={colour} />
        </>
      )}
      {shape === 'hollow' && <path d="M8 1.2 14.8 8 8 14.8 1.2 8z" {...common} />}
      {shape === 'barred' && (
        <>
          <rect x="1.5" y="1.5" width="13" height="13" fill={colour} />
          <path d="M4 12 12 4" stroke="var(--color-base-100)" strokeWidth="2.4" />
        </>
      )}
      {shape === 'dotted' && <circle cx="8" cy="8" r="6" {...common} strokeDasharray="2 3" />}
    </svg>
  )
}

/** The shape of a verdict alone, where the word stands elsewhere. */
export function VerdictShape({ verdict, sizePx }: { verdict: VerdictWire; sizePx: number }) {
  return <ShapeMark shape={VERDICT_SHAPES[verdict]} sizePx={sizePx} />
}

export function VerdictMark({ verdict, sizePx }: { verdict: VerdictWire; sizePx?: number }) {
  return (
    <span className="inline-flex items-center gap-1.5 whitespace-nowrap">
      <ShapeMark shape={VERDICT_SHAPES[verdict]} {...(sizePx ? { sizePx } : {})} />
      <span className="font-semibold">{VERDICT_WORDS[verdict]}</span>
    </span>
  )
}

const FIT_SHAPES: Readonly<Record<NonNullable<SoundSummary['fit']>, Shape>> = {
  fits: 'disc',
  'fits-with-credit': 'half',
  'does-not-fit': 'barred',
  'not-stated': 'dotted',
}

/** Whether the terms allow the uses of the video in hand, and what has to be done first. @param condition "if bought"; empty for nothing. */
export function FitMark({ fit, condition }: { fit: SoundSummary['fit']; condition: string }) {
  if (fit === null) return <span className="quiet">–</span>
  return (
    <span className="inline-flex flex-wrap items-center gap-x-1.5">
      <span className="inline-flex items-center gap-1.5 whitespace-nowrap">
        <ShapeMark shape={FIT_SHAPES[fit]} />
        <span>
          {FIT_WORDS[fit]}
          {condition && <span className="sr-only">,</span>}
        </span>
      </span>
      {condition && <span className="whitespace-nowrap text-xs leading-tight">{condition}</span>}
    </span>
  )
}
