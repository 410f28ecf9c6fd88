import { describe, expect, it } from 'vitest'
import { ucsName } from './ucs'

describe('names after the Universal Category System', () => {
  it.each([
    ['DOORWood_Kitchen door_SMHR_DOME', 'Doors', 'Kitchen door', 'SMHR', 'DOME', ''],
    ['WINDGust_Gust at the fence_SMHR_RIDGE', 'Wind', 'Gust at the fence', 'SMHR', 'RIDGE', ''],
    ['AMBRurl_Night_XY_none_take 2', 'Ambience', 'Night', 'XY', 'none', 'take 2'],
    ['WATRPour-TEA_Pot_XY_LIB', 'Water', 'Pot', 'XY', 'LIB', ''],
    ['UIClick_Soft_XY_LIB', 'User interface', 'Soft', 'XY', 'LIB', ''],
  ])('%s', (stem, category, fxName, creatorId, sourceId, userData) => {
    expect(ucsName(stem)).toMatchObject({ category, fxName, creatorId, sourceId, userData })
  })

  it('keep a category that is not known, without words for it', () => {
    expect(ucsName('QQQZap_Thing_A_B')).toMatchObject({ catId: 'QQQZap', category: null, fxName: 'Thing' })
  })

  it.each(['boots on the iron stair', 'door_slam', 'Door_slam_close_01', 'DOORWood__A_B', 'DOORWood_Name_A', ''])(
    'are not read into “%s”',
    (stem) => expect(ucsName(stem)).toBeNull(),
  )
})
