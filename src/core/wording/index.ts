import { clearance } from './clearance'
import { credits } from './credits'
import { formats } from './formats'
import { ledger } from './ledger'
import { likeness } from './likeness'
import { mix } from './mix'
import { moments } from './moments'
import { rights } from './rights'
import { score } from './score'

/** Every text of what the core decides and explains. */
export const messages = {
  clearance,
  credits,
  formats,
  ledger,
  likeness,
  mix,
  moments,
  rights,
  score,
}
