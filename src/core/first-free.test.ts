import { expect, it } from 'vitest'
import { firstFree } from './first-free'

it.each([
  [[], 'gates'],
  [['other'], 'gates'],
  [['gates'], 'gates-2'],
  [['gates', 'gates-3'], 'gates-2'],
  [['gates', 'gates-2', 'gates-3'], 'gates-4'],
])('beside %j the first free name is %s', (taken, name) => {
  expect(firstFree('gates', new Set(taken), (number) => `gates-${number}`)).toBe(name)
})
