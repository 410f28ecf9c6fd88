import { clearance } from './clearance'
import { common } from './common'
import { counts } from './counts'
import { find } from './find'
import { first } from './first'
import { moments } from './moments'
import { money } from './money'
import { papers } from './papers'
import { query } from './query'
import { score } from './score'
import { shared } from './shared'
import { shelf } from './shelf'
import { shell } from './shell'
import { sound } from './sound'
import { sources } from './sources'
import { terms } from './terms'
import { videos } from './videos'
import { words } from './words'

/** Every text of the interface. */
export const messages = {
  clearance,
  common,
  counts,
  find,
  first,
  moments,
  money,
  papers,
  query,
  score,
  shared,
  shelf,
  shell,
  sound,
  sources,
  terms,
  videos,
  words,
}
