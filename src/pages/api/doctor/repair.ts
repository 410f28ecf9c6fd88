import type { APIRoute } from 'astro'
import { endpoint } from '../../../server/answer'
import { repairFound } from '../../../server/doctor/doctor-job'
import { repairedInWords } from '../../../server/doctor/repair'

/** Repairs what the last examination found, as far as it is safe. */
export const POST: APIRoute = endpoint(async (app) => ({ sentence: repairedInWords(await repairFound(app)) }))
