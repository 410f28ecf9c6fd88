import { describe, expect, it } from 'vitest'
import { scoreThreshold } from './confidence'
import { searchPlan } from './plan'

describe('searchPlan', () => {
  const durationS = 600

  it('looks for likely sounds in twice the band, one by one', () => {
    const plan = searchPlan(scoreThreshold({ soundCount: 20, durationS }), true)
    expect(plan.coarse).toMatchObject({ halvings: 1, groupSize: 1 })
    expect(plan.halfMin).toBeNull()
  })

  it.each([
    [300, 1],
    [20000, 2],
  ])('looks for %i sounds of a catalogue %i to a template', (soundCount, groupSize) => {
    const threshold = scoreThreshold({ soundCount, durationS })
    const plan = searchPlan(threshold, false)
    expect(plan.coarse).toMatchObject({ halvings: 2, groupSize })
    // Finds under the threshold are gathered too: they show what chance does.
    expect(plan.scoreMin).toBeLessThan(threshold)
  })
})
