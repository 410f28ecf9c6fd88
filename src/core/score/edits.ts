import { type ChangeById, changedById } from '../changed-by-id'
import { score as messages } from '../wording/score'
import { withTheirBeds } from './bed-changes'
import { checkDelivery, checkLayer, checkPlacement } from './check'
import {
  type Delivery,
  inOrder,
  type Layer,
  type LayerValues,
  type Placement,
  type PlacementValues,
  SCORE_LIMITS,
  type Score,
} from './score'
import { ScoreError } from './score-error'

type LayerChange = ChangeById<LayerValues>
type PlacementChange = ChangeById<PlacementValues>

/** One change of what is placed, as data. */
export type ScoreEdit =
  | { readonly do: 'add-layer'; readonly layer: Layer; readonly atIndex: number }
  /** The layer has to be empty: what lies on it is taken away first, so that nothing goes without being named. */
  | { readonly do: 'remove-layer'; readonly id: string }
  | { readonly do: 'move-layer'; readonly id: string; readonly toIndex: number }
  | { readonly do: 'change-layers'; readonly changes: readonly LayerChange[] }
  | { readonly do: 'add'; readonly placements: readonly Placement[] }
  | { readonly do: 'remove'; readonly ids: readonly string[] }
  | { readonly do: 'change'; readonly changes: readonly PlacementChange[] }
  | { readonly do: 'deliver'; readonly delivery: Delivery }
  | { readonly do: 'all'; readonly edits: readonly ScoreEdit[] }

/** A score after an edit, and the edit that takes it back. */
export interface EditedScore {
  readonly document: Score
  readonly inverse: ScoreEdit
}

const DEEPEST = 4

/**
 * A score with an edit done. The inverse, applied to the result, gives the score back.
 *
 * @throws {ScoreError} when it names what is not there, or a value is out of bounds; nothing of it is done then.
 */
export function scoreWithEdit(score: Score, edit: ScoreEdit, depth = 0): EditedScore {
  switch (edit.do) {
    case 'add-layer':
      return withLayer(score, edit.layer, edit.atIndex)
    case 'remove-layer':
      return withoutLayer(score, edit.id)
    case 'move-layer':
      return withMovedLayer(score, edit.id, edit.toIndex)
    case 'change-layers':
      return withChangedLayers(score, edit.changes)
    case 'add':
      return withPlacements(score, edit.placements)
    case 'remove':
      return withoutPlacements(score, edit.ids)
    case 'change':
      return withChangedPlacements(score, edit.changes)
    case 'deliver':
      checkDelivery(edit.delivery)
      return {
        document: { ...score, delivery: edit.delivery },
        inverse: { do: 'deliver', delivery: score.delivery },
      }
    case 'all': {
      if (depth >= DEEPEST) throw new ScoreError('too-deep', messages.changeNestedTooDeeply)
      let now = score
      const inverses: ScoreEdit[] = []
      for (const one of edit.edits) {
        const { document, inverse } = scoreWithEdit(now, one, depth + 1)
        now = document
        inverses.unshift(inverse)
      }
      return { document: now, inverse: { do: 'all', edits: inverses } }
    }
  }
}

function withLayer(score: Score, layer: Layer, atIndex: number): EditedScore {
  if (score.layers.some(({ id }) => id === layer.id))
    throw new ScoreError('there-already', messages.theLayerIsThereAlready(layer.name))
  if (score.layers.length >= SCORE_LIMITS.layers)
    throw new ScoreError('too-many', messages.thereAreAtMostLayers(SCORE_LIMITS.layers))
  requireIndex(atIndex, score.layers.length)
  checkLayer(layer)
  return {
    document: { ...score, layers: inserted(score.layers, layer, atIndex) },
    inverse: { do: 'remove-layer', id: layer.id },
  }
}

function withoutLayer(score: Score, id: string): EditedScore {
  const at = layerIndex(score, id)
  const layer = score.layers[at] as Layer
  if (score.placements.some(({ layerId }) => layerId === id))
    throw new ScoreError('not-empty', messages.thereAreSoundsOnLayer(layer.name))
  return {
    document: { ...score, layers: without(score.layers, at) },
    inverse: { do: 'add-layer', layer, atIndex: at },
  }
}

function withMovedLayer(score: Score, id: string, toIndex: number): EditedScore {
  const at = layerIndex(score, id)
  requireIndex(toIndex, score.layers.length - 1)
  return {
    document: { ...score, layers: inserted(without(score.layers, at), score.layers[at] as Layer, toIndex) },
    inverse: { do: 'move-layer', id, toIndex: at },
  }
}

function withChangedLayers(score: Score, changes: readonly LayerChange[]): EditedScore {
  const { values, backwards } = changedById<Layer, LayerValues>(score.layers, changes, {
    check: checkLayer,
    missing: notThere,
  })
  return { document: { ...score, layers: values }, inverse: { do: 'change-layers', changes: backwards } }
}

function withPlacements(score: Score, added: readonly Placement[]): EditedScore {
  const ids = new Set(score.placements.map(({ id }) => id))
  for (const placement of added) {
    if (ids.has(placement.id)) throw new ScoreError('there-already', messages.thisSoundIsPlacedAlready)
    ids.add(placement.id)
    checkPlacement(placement, score.layers)
  }
  if (ids.size > SCORE_LIMITS.placements)
    throw new ScoreError('too-many', messages.atMostSoundsCanBe(SCORE_LIMITS.placements))
  return {
    document: { ...score, placements: inOrder([...score.placements, ...added]) },
    inverse: { do: 'remove', ids: added.map(({ id }) => id) },
  }
}

function withoutPlacements(score: Score, ids: readonly string[]): EditedScore {
  const wanted = new Set(ids)
  const removed = score.placements.filter(({ id }) => wanted.has(id))
  if (removed.length < wanted.size) throw notThere()
  return {
    document: { ...score, placements: score.placements.filter(({ id }) => !wanted.has(id)) },
    inverse: { do: 'add', placements: removed },
  }
}

function withChangedPlacements(score: Score, changes: readonly PlacementChange[]): EditedScore {
  const all = withTheirBeds(score.placements, changes)
  const { values, backwards } = changedById<Placement, PlacementValues>(score.placements, all, {
    check: (placement) => checkPlacement(placement, score.layers),
    missing: notThere,
  })
  return { document: { ...score, placements: inOrder(values) }, inverse: { do: 'change', changes: backwards } }
}

function inserted<T>(values: readonly T[], value: T, at: number): T[] {
  return [...values.slice(0, at), value, ...values.slice(at)]
}

function without<T>(values: readonly T[], at: number): T[] {
  return values.filter((_, index) => index !== at)
}

function layerIndex(score: Score, id: string): number {
  const at = score.layers.findIndex((layer) => layer.id === id)
  if (at < 0) throw new ScoreError('not-there', messages.thisLayerNotThereAny)
  return at
}

function requireIndex(index: number, most: number): void {
  if (!Number.isInteger(index) || index < 0 || index > most)
    throw new ScoreError('bad-value', messages.layerCanStandAtPlace(most + 1))
}

function notThere(): ScoreError {
  return new ScoreError('not-there', messages.oneTheseNotThereAny)
}
