import { type DragEvent, type PointerEvent, useMemo, useRef, useState, useSyncExternalStore } from 'react'
import { dipsUnder } from '../../../core/mix'
import { hitTimeS, type Layer, type Placement, placementEndS, placementLengthS, targetTimeS } from '../../../core/score'
import {
  duckLine,
  type LayerRowPlace,
  layerAt,
  layerRows,
  levelHeight,
  levelLine,
  printRuns,
  SHAPE_HEIGHT_PX,
  SHAPE_PX_PER_S,
  shapesOf,
  stemPath,
} from '../../score/score-shapes'
import { SOUND_DRAG_TYPE } from '../../score/sound-drag'
import { useBoxSelection } from '../../score/use-box-selection'
import type { PlaceActions, PlaceDesk } from '../../score/use-score-desk'
import { heightOf, RULER_PX, rowsOf } from '../../time-map/draw'
import { pxIn } from '../../time-map/px-in'
import { TimeMap } from '../../time-map/TimeMap'
import { type Scale, scaleOf, snapped } from '../../time-map/view'
import { PrintHandles } from './PrintHandles'

/** A dragged hit goes to what is so near, px. */
const SNAP_PX = 8
/** Ends are taken within this, px. */
const END_PX = 7
const DRAG_MIN_PX = 3
const WAVE_PX = 40
const STRIP_PX = 42
/** A row that holds nothing yet has room for its sentence, px. */
const EMPTY_PX = 48
/** Handles are shown on prints that are at least so wide, px. */
const HANDLES_FROM_PX = 56
/** Space above and below a print in its row, px. */
const PRINT_MARGIN_PX = 4

interface ScoreMapProps {
  readonly placeDesk: PlaceDesk
  readonly actions: PlaceActions
}

/** What is being dragged: all of it, or one end. */
interface Drag {
  readonly ids: ReadonlySet<string>
  readonly what: 'all' | 'start' | 'end'
  readonly byS: number
}

/** The time map with a row for each layer: prints on the time scale, and stems from the picture down to what they meet. */
export function ScoreMap({ placeDesk, actions }: ScoreMapProps) {
  const { durationS, content, rate, drop, store, player, part, setPart, moments } = placeDesk
  return (
    <TimeMap
      {...{ durationS, content, rate, drop, store }}
      marksS={moments.map(({ atS }) => atS)}
      wavePx={WAVE_PX}
      clock={player.clock}
      span={part}
      onSeek={player.seek}
      onMark={setPart}
      label="Time map of what is placed"
    >
      {({ widthPx }) => (
        <Rows placeDesk={placeDesk} actions={actions} widthPx={widthPx} mapPx={heightOf(rowsOf(content, WAVE_PX))} />
      )}
    </TimeMap>
  )
}

function Rows({ placeDesk, actions, widthPx, mapPx }: ScoreMapProps & { widthPx: number; mapPx: number }) {
  const { store, score, moments, content } = placeDesk
  const view = useSyncExternalStore(store.subscribe, store.now, store.now)
  const scale = scaleOf(view, widthPx)
  const [drag, setDrag] = useState<Drag | null>(null)
  const [preview, setPreview] = useState<Placement | null>(null)
  const rows = useMemo(() => layerRows(score.layers), [score.layers])
  const layersPx = [...rows.values()].reduce((sum, { heightPx }) => sum + heightPx, 0)
  const shown = score.placements
    .map((placement) => (preview?.id === placement.id ? preview : dragged(placement, drag)))
    .filter((placement) => placement.startS < view.endS && placementEndS(placement) > view.startS)
  const { setChosenIds, setLayerId, chosenIds, speech } = placeDesk
  // They are drawn with every step of the wheel, and change only with the layers.
  const dips = useMemo(() => score.layers.map(({ duck }) => duck && dipsUnder(duck, speech)), [score.layers, speech])
  const { box, pointer } = useBoxSelection({
    scale,
    placements: score.placements,
    rowOf: rows,
    onChoose: (ids, adds) => {
      setLayerId(null)
      setChosenIds(new Set([...(adds ? chosenIds : []), ...ids]))
    },
  })
  const [only] = placeDesk.chosen.length === 1 && !drag ? shown.filter(({ id }) => chosenIds.has(id)) : []
  const isFolded = score.layers.find(({ id }) => id === only?.layerId)?.isFolded === true
  const drop = {
    onDragOver: (event: DragEvent<HTMLElement>): void => {
      if (!event.dataTransfer.types.includes(SOUND_DRAG_TYPE)) return
      event.preventDefault()
      event.dataTransfer.dropEffect = 'copy'
    },
    onDrop: (event: DragEvent<HTMLElement>): void => {
      const soundId = Number(event.dataTransfer.getData(SOUND_DRAG_TYPE))
      if (!Number.isInteger(soundId) || soundId <= 0) return
      event.preventDefault()
      const atS = Math.max(0, scale.timeAt(pxIn(event)))
      const y = event.clientY - event.currentTarget.getBoundingClientRect().top
      void actions.placeSound(soundId, { atS, layerId: layerAt(score.layers, y)?.id ?? null })
    },
  }
  const stemTopPx = RULER_PX + (content.strip ? STRIP_PX : 0)
  return (
    <div
      className="relative touch-pan-y"
      style={{ height: Math.max(EMPTY_PX, layersPx) }}
      data-testid="layers"
      {...pointer}
      {...drop}
    >
      {score.layers.length === 0 && (
        <p className="quiet absolute inset-0 grid place-items-center text-sm">
          Nothing is placed yet. Place a sound for one of the moments above.
        </p>
      )}
      {score.layers.map((layer) => (
        <LayerRow key={layer.id} layer={layer} row={rows.get(layer.id)} placeDesk={placeDesk} />
      ))}
      <svg
        className="pointer-events-none absolute left-0 overflow-visible"
        style={{ top: -mapPx }}
        width={widthPx}
        height={mapPx + layersPx}
        aria-hidden="true"
      >
        {score.layers.map(({ id }, at) => {
          const [ofLayer, row] = [dips[at], rows.get(id)]
          return ofLayer && row ? (
            <path
              key={id}
              data-testid="duck-line"
              d={duckLine(ofLayer, scale, row.heightPx)}
              transform={`translate(0 ${mapPx + row.topPx})`}
              fill="none"
              className="stroke-base-content/50"
              strokeWidth={1.25}
            />
          ) : null
        })}
        {shown.map((placement) => (
          <Stem
            key={placement.id}
            placement={placement}
            targetS={placement.target && targetTimeS(placement.target, { moments })}
            scale={scale}
            topPx={stemTopPx}
            bottomPx={mapPx + middlePx(rows.get(placement.layerId))}
            isChosen={placeDesk.chosenIds.has(placement.id)}
          />
        ))}
      </svg>
      {box && (
        <div
          className="pointer-events-none absolute z-20 border border-primary bg-primary/10"
          style={{ left: box.left, top: box.top, width: box.right - box.left, height: box.bottom - box.top }}
        />
      )}
      {shown.map((placement) => (
        <PlacedPrint
          key={placement.id}
          placement={placement}
          scale={scale}
          box={printBox(placement, rows.get(placement.layerId))}
          placeDesk={placeDesk}
          actions={actions}
          onDrag={setDrag}
        />
      ))}
      {only && !isFolded && placementLengthS(only) * scale.pxPerS >= HANDLES_FROM_PX && (
        <PrintHandles
          placement={only}
          scale={scale}
          box={printBox(only, rows.get(only.layerId))}
          actions={actions}
          onPreview={setPreview}
        />
      )}
    </div>
  )
}

interface PrintBox {
  readonly topPx: number
  readonly heightPx: number
}

/** Where a print is drawn: in the middle of its row, as high as it is loud. */
function printBox({ gainDb }: Placement, row: LayerRowPlace | undefined): PrintBox {
  const { topPx, heightPx: rowPx } = row ?? { topPx: 0, heightPx: EMPTY_PX }
  const heightPx = levelHeight(gainDb) * (rowPx - 2 * PRINT_MARGIN_PX)
  return { topPx: topPx + (rowPx - heightPx) / 2, heightPx }
}

function middlePx(row: LayerRowPlace | undefined): number {
  return row ? row.topPx + row.heightPx / 2 : 0
}

function dragged(placement: Placement, drag: Drag | null): Placement {
  if (!drag?.ids.has(placement.id) || drag.what !== 'all') return placement
  return { ...placement, startS: Math.max(0, placement.startS + drag.byS) }
}

interface LayerRowProps {
  readonly layer: Layer
  readonly row: LayerRowPlace | undefined
  readonly placeDesk: PlaceDesk
}

function LayerRow({ layer, row, placeDesk }: LayerRowProps) {
  const words = [layer.isMuted && 'muted', layer.isSolo && 'solo', layer.duck && 'goes down under speech'].filter(
    Boolean,
  )
  return (
    <div className="absolute inset-x-0 border-b ruled" style={{ top: row?.topPx, height: row?.heightPx }}>
      <button
        type="button"
        className={`absolute left-0 top-0 z-10 min-h-6 rounded-br bg-base-100/80 px-1.5 text-xs ${placeDesk.layerId === layer.id ? 'font-semibold underline' : 'quiet'}`}
        aria-pressed={placeDesk.layerId === layer.id}
        onClick={() => {
          placeDesk.setChosenIds(new Set())
          placeDesk.setLayerId(placeDesk.layerId === layer.id ? null : layer.id)
        }}
      >
        {layer.name}
        {words.length > 0 && `, ${words.join(', ')}`}
      </button>
    </div>
  )
}

interface StemProps {
  readonly placement: Placement
  readonly targetS: number | null
  readonly scale: Scale
  readonly topPx: number
  readonly bottomPx: number
  readonly isChosen: boolean
}

function Stem({ placement, targetS, scale, topPx, bottomPx, isChosen }: StemProps) {
  if (targetS === null) return null
  const atS = hitTimeS(placement) ?? placement.startS
  const [fromX, toX] = [scale.x(targetS), scale.x(atS)]
  const meets = Math.abs(targetS - atS) < 0.0005
  return (
    <g className={isChosen ? 'text-primary' : 'text-base-content'} data-testid="stem" data-meets={meets}>
      <path
        d={stemPath({ fromX: meets ? toX : fromX, toX, topPx, bottomPx })}
        fill="none"
        stroke="currentColor"
        strokeWidth={isChosen ? 2 : 1.25}
        strokeDasharray={meets ? undefined : '3 3'}
      />
      <circle cx={toX} cy={bottomPx} r={3.5} fill="currentColor" />
    </g>
  )
}

interface PlacedPrintProps extends ScoreMapProps {
  readonly placement: Placement
  readonly scale: Scale
  readonly box: PrintBox
  readonly onDrag: (drag: Drag | null) => void
}

/** A placed sound: its print, as high as it is loud, with the line of its level; dragged as a whole or by its ends. */
function PlacedPrint({ placement, scale, box: { topPx, heightPx }, placeDesk, actions, onDrag }: PlacedPrintProps) {
  const { sounds, chosenIds, setChosenIds, timecode } = placeDesk
  const sound = placement.audio.soundId === null ? undefined : sounds.get(placement.audio.soundId)
  const isChosen = chosenIds.has(placement.id)
  const widthPx = Math.max(6, placementLengthS(placement) * scale.pxPerS)
  const line = levelLine(placement)
  const lostSpeech = placeDesk.masking.byId.get(placement.id)?.speechLost ?? []
  const { wasDragged, ...pointer } = usePrintDrag({ placement, scale, widthPx, placeDesk, actions, onDrag })
  const title = sound?.title ?? 'A sound'
  const print = sound?.print
  return (
    <button
      type="button"
      className={`absolute block cursor-grab touch-none rounded-sm ${isChosen ? 'outline-2 outline-primary' : ''} ${placement.isMuted ? 'opacity-35' : ''}`}
      style={{
        left: scale.x(placement.startS),
        top: topPx,
        width: widthPx,
        height: heightPx,
      }}
      aria-label={`${title}, ${timecode(placement.startS)} to ${timecode(placementEndS(placement))}${placement.isMuted ? ', muted' : ''}`}
      aria-pressed={isChosen}
      title={title}
      data-placement={placement.id}
      {...pointer}
      onClick={(event) => {
        placeDesk.setLayerId(null)
        if (wasDragged.current) return
        setChosenIds(event.shiftKey ? new Set([...chosenIds, placement.id]) : new Set([placement.id]))
      }}
    >
      <svg
        width="100%"
        height="100%"
        viewBox="0 0 100 100"
        preserveAspectRatio="none"
        aria-hidden="true"
        className="block"
      >
        {print ? (
          <g transform={placement.isReversed ? 'translate(100 0) scale(-1 1)' : undefined}>
            {printRuns(placement).map(({ key, x, width, fromS, toS }) => (
              <svg
                key={key}
                aria-hidden="true"
                x={x}
                y="0"
                width={width}
                height="100"
                viewBox={`${fromS * SHAPE_PX_PER_S} 0 ${(toS - fromS) * SHAPE_PX_PER_S} ${SHAPE_HEIGHT_PX}`}
                preserveAspectRatio="none"
              >
                {shapesOf(print).map((path, band) => (
                  // biome-ignore lint/suspicious/noArrayIndexKey: the bands are always the same four, in order
                  <path key={band} d={path} fill="currentColor" opacity={0.9 - 0.2 * band} />
                ))}
              </svg>
            ))}
          </g>
        ) : (
          <rect x="0" y="30" width="100" height="40" fill="currentColor" opacity="0.25" />
        )}
        {line && (
          <path d={line} fill="none" className="stroke-primary" strokeWidth="1.5" vectorEffect="non-scaling-stroke" />
        )}
      </svg>
      {lostSpeech.map(({ startS, endS }) => (
        <span
          key={startS}
          data-testid="speech-lost"
          title="What is said here is hardly understood"
          className="absolute bottom-0 block h-1 bg-error"
          style={{
            left: (startS - placement.startS) * scale.pxPerS,
            width: Math.max(2, (endS - startS) * scale.pxPerS),
          }}
        />
      ))}
    </button>
  )
}

interface PrintDragOptions {
  readonly placement: Placement
  readonly scale: Scale
  readonly widthPx: number
  readonly placeDesk: PlaceDesk
  readonly actions: PlaceActions
  readonly onDrag: (drag: Drag | null) => void
}

/** Dragging a print: it goes to moments, shot changes and other hits; with Alt it goes anywhere. */
function usePrintDrag({ placement, scale, widthPx, placeDesk, actions, onDrag }: PrintDragOptions) {
  // As it was when the pointer went down: what is shown moves with it.
  const from = useRef<{
    readonly px: number
    readonly what: Drag['what']
    readonly placement: Placement
    moved: boolean
  } | null>(null)
  // One of several that are chosen takes the others with it.
  const together = (one: Placement): readonly Placement[] =>
    placeDesk.chosenIds.has(one.id) ? placeDesk.chosen : [one]
  const wasDragged = useRef(false)
  const byOf = (event: PointerEvent): number => {
    const start = from.current
    if (!start) return 0
    const byS = (event.clientX - start.px) / scale.pxPerS
    return event.altKey || start.what !== 'all' ? byS : snappedBy(start.placement, byS, scale, placeDesk)
  }
  return {
    /** Whether the click that comes now is the end of dragging. */
    wasDragged,
    onPointerDown: (event: PointerEvent<HTMLButtonElement>): void => {
      wasDragged.current = false
      if (event.button !== 0) return
      event.currentTarget.setPointerCapture(event.pointerId)
      const at = event.clientX - event.currentTarget.getBoundingClientRect().left
      const isEnd = widthPx > 4 * END_PX
      const what = isEnd && at < END_PX ? 'start' : isEnd && at > widthPx - END_PX ? 'end' : 'all'
      from.current = { px: event.clientX, what, placement, moved: false }
    },
    onPointerMove: (event: PointerEvent<HTMLButtonElement>): void => {
      const start = from.current
      if (!start || (!start.moved && Math.abs(event.clientX - start.px) < DRAG_MIN_PX)) return
      start.moved = true
      onDrag({ ids: new Set(together(start.placement).map(({ id }) => id)), what: start.what, byS: byOf(event) })
    },
    onPointerUp: (event: PointerEvent<HTMLButtonElement>): void => {
      const start = from.current
      const byS = byOf(event)
      from.current = null
      onDrag(null)
      if (!start?.moved) return
      wasDragged.current = true
      const { placement: at } = start
      if (start.what === 'all') actions.move(together(at), byS)
      else {
        actions.trim(at, start.what, (start.what === 'start' ? at.startS : placementEndS(at)) + byS)
      }
    },
    onPointerCancel: (): void => {
      from.current = null
      onDrag(null)
    },
  }
}

function snappedBy(placement: Placement, byS: number, scale: Scale, { moments, content, score }: PlaceDesk): number {
  const hitS = hitTimeS(placement) ?? placement.startS
  const others = score.placements.filter(({ id }) => id !== placement.id).map((one) => hitTimeS(one) ?? one.startS)
  const marks = [...moments.map(({ atS }) => atS), ...content.shotChangesS, ...others]
  return snapped(hitS + byS, marks, SNAP_PX / scale.pxPerS) - hitS
}
