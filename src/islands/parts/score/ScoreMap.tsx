import { type DragEvent, useMemo, useState, useSyncExternalStore } from 'react'
import { dipsUnder } from '../../../core/mix'
import { hitTimeS, type Layer, type Placement, placementEndS, placementLengthS, targetTimeS } from '../../../core/score'
import { messages } from '../../../messages'
import {
  type BedBand,
  bedBands,
  duckLine,
  type LayerRowPlace,
  layerAt,
  layerRows,
  levelHeight,
  stemPath,
} from '../../score/score-shapes'
import { SOUND_DRAG_TYPE } from '../../score/sound-drag'
import { useBoxSelection } from '../../score/use-box-selection'
import type { PlaceActions } from '../../score/use-place-actions'
import type { PrintDrag } from '../../score/use-print-drag'
import type { PlaceDesk } from '../../score/use-score-desk'
import { heightOf, RULER_PX, rowsOf } from '../../time-map/draw'
import { pxIn } from '../../time-map/px-in'
import { TimeMap } from '../../time-map/TimeMap'
import { type Scale, scaleOf } from '../../time-map/view'
import { PlacedPrint, type PrintBox } from './PlacedPrint'
import { PrintHandles } from './PrintHandles'

const WAVE_PX = 40
const STRIP_PX = 42
/** A row that holds nothing yet has room for its sentence, px. */
const EMPTY_PX = 48
/** Handles are shown on prints that are at least so wide, px. */
const HANDLES_FROM_PX = 72
/** Space between the stems of a bed, px. */
const BAND_MARGIN_PX = 1
/** Space above and below a print in its row, px. */
const PRINT_MARGIN_PX = 4

interface ScoreMapProps {
  readonly placeDesk: PlaceDesk
  readonly actions: PlaceActions
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
      label={messages.score.timeMapOfWhatIs}
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
  const [drag, setDrag] = useState<PrintDrag | null>(null)
  const [preview, setPreview] = useState<Placement | null>(null)
  const rows = useMemo(() => layerRows(score.layers), [score.layers])
  const layersPx = [...rows.values()].reduce((sum, { heightPx }) => sum + heightPx, 0)
  const shown = score.placements
    .map((placement) => (preview?.id === placement.id ? preview : dragged(placement, drag, actions)))
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
  const only = drag ? undefined : shown.find(({ id }) => id === placeDesk.stem?.id)
  const bands = useMemo(() => bedBands(score.placements), [score.placements])
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
          {messages.score.nothingIsPlacedYetPlace}
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
        {shown
          .filter(({ id }) => (bands.get(id)?.at ?? 0) === 0)
          .map((placement) => (
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
          box={printBox(placement, rows.get(placement.layerId), bands.get(placement.id))}
          placeDesk={placeDesk}
          actions={actions}
          onDrag={setDrag}
          isDragged={drag?.ids.has(placement.id) === true}
        />
      ))}
      {only && !isFolded && placementLengthS(only) * scale.pxPerS >= HANDLES_FROM_PX && (
        <PrintHandles
          placement={only}
          scale={scale}
          box={printBox(only, rows.get(only.layerId), bands.get(only.id))}
          actions={actions}
          onPreview={setPreview}
        />
      )}
    </div>
  )
}

/** Where a print is drawn: in the middle of its row, as high as it is loud. It is taken anywhere in the height of the row. */
function printBox({ gainDb }: Placement, row: LayerRowPlace | undefined, band: BedBand | undefined): PrintBox {
  const { topPx: rowPx, heightPx: wholePx } = row ?? { topPx: 0, heightPx: EMPTY_PX }
  // Stems share the height of the row, one below the other: together they look like the one thing that they are.
  const heightPx = band ? wholePx / band.count : wholePx
  const topPx = band ? rowPx + band.at * heightPx : rowPx
  if (band) return { rowTopPx: topPx, rowPx: heightPx, insetPx: BAND_MARGIN_PX }
  const printPx = levelHeight(gainDb) * (heightPx - 2 * PRINT_MARGIN_PX)
  return { rowTopPx: topPx, rowPx: heightPx, insetPx: (heightPx - printPx) / 2 }
}

function middlePx(row: LayerRowPlace | undefined): number {
  return row ? row.topPx + row.heightPx / 2 : 0
}

/** A placement as it would be if it were let go where it is dragged to. */
function dragged(placement: Placement, drag: PrintDrag | null, actions: PlaceActions): Placement {
  if (!drag?.ids.has(placement.id)) return placement
  const { what, byS } = drag
  if (what === 'all') return { ...placement, startS: Math.max(0, placement.startS + byS) }
  return actions.trimmedTo(placement, what, (what === 'start' ? placement.startS : placementEndS(placement)) + byS)
}

interface LayerRowProps {
  readonly layer: Layer
  readonly row: LayerRowPlace | undefined
  readonly placeDesk: PlaceDesk
}

function LayerRow({ layer, row, placeDesk }: LayerRowProps) {
  const words = [
    layer.isMuted && 'muted',
    layer.isSolo && 'solo',
    layer.duck && messages.score.goesDownUnderSpeech,
  ].filter(Boolean)
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
