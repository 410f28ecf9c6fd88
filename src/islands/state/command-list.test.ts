import { describe, expect, it } from 'vitest'
import { type CommandGroup, matchingGroups } from './command-list'

const command = (title: string, note = '') => ({ id: title, title, note, keys: null, run: () => undefined })
const GROUPS: readonly CommandGroup[] = [
  { heading: 'Places', commands: ['Desk', 'Find', 'Papers', 'Ledger'].map((title) => command(title)) },
  { heading: 'On this page', commands: [command('Split the sound at the playhead'), command('Mute')] },
  { heading: 'Videos', commands: [command('The night the dome froze', 'ready'), command('Three signals before dawn')] },
  { heading: 'Empty', commands: [] },
]
const found = (text: string) =>
  matchingGroups(GROUPS, text).map(({ heading, commands }) => [heading, commands[0]?.title])

describe('the list of commands', () => {
  it('shows every group that has something, in their order, before anything is typed', () => {
    expect(matchingGroups(GROUPS, ' ').map(({ heading }) => heading)).toEqual(['Places', 'On this page', 'Videos'])
  })

  it.each([
    ['papers', 'Places', 'Papers'],
    ['PAPERS', 'Places', 'Papers'],
    ['ppr', 'Places', 'Papers'],
    ['split', 'On this page', 'Split the sound at the playhead'],
    ['dome froze', 'Videos', 'The night the dome froze'],
    ['night dome', 'Videos', 'The night the dome froze'],
    ['ready', 'Videos', 'The night the dome froze'],
    ['mut', 'On this page', 'Mute'],
  ])('%s finds it first', (text, heading, title) => {
    expect(found(text)[0]).toEqual([heading, title])
  })

  it.each(['zzzz', 'xq', '%%', '<script>'])('%s finds nothing', (text) => {
    expect(found(text)).toEqual([])
  })

  it('shows a few of very many', () => {
    const many = Array.from({ length: 400 }, (_, at) => command(`Video number ${at}`))
    expect(matchingGroups([{ heading: 'Videos', commands: many }], 'video')[0]?.commands).toHaveLength(8)
    expect(matchingGroups([{ heading: 'Videos', commands: many }], '')[0]?.commands).toHaveLength(8)
  })
})
