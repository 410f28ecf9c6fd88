import { accounts } from './accounts'
import { analysis } from './analysis'
import { application } from './application'
import { backup } from './backup'
import { checks } from './checks'
import { clearance } from './clearance'
import { commands } from './commands'
import { copies } from './copies'
import { cuts } from './cuts'
import { database } from './database'
import { described } from './described'
import { desk } from './desk'
import { doctor } from './doctor'
import { files } from './files'
import { finding } from './finding'
import { folders } from './folders'
import { inputs } from './inputs'
import { jobs } from './jobs'
import { ledger } from './ledger'
import { live } from './live'
import { media } from './media'
import { moments } from './moments'
import { orders } from './orders'
import { papers } from './papers'
import { ports } from './ports'
import { preparing } from './preparing'
import { removal } from './removal'
import { requests } from './requests'
import { rows } from './rows'
import { score } from './score'
import { shelf } from './shelf'
import { sounds } from './sounds'
import { sources } from './sources'
import { terms } from './terms'
import { videos } from './videos'
import { workers } from './workers'

/** Every text that the server says: what went wrong, what a job does, what is to be done. */
export const messages = {
  accounts,
  analysis,
  application,
  backup,
  checks,
  clearance,
  commands,
  copies,
  cuts,
  database,
  described,
  desk,
  doctor,
  files,
  finding,
  folders,
  inputs,
  jobs,
  ledger,
  live,
  media,
  moments,
  orders,
  papers,
  ports,
  preparing,
  removal,
  requests,
  rows,
  score,
  shelf,
  sounds,
  sources,
  terms,
  videos,
  workers,
}
