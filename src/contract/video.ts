import { z } from 'zod'
import { USE_PLACES } from '../core/rights'
import { inputs as messages } from '../messages/server/inputs'
import { VideoStateWire } from './clearance'

const Day = z.iso.date({ error: messages.writeDateAsYyyyMm })

/** "worldwide", or ISO 3166-1 alpha-2 codes joined by commas. */
const Territory = z
  .string()
  .trim()
  .transform((text) => (text.toLowerCase() === 'worldwide' ? 'worldwide' : text.toUpperCase().replace(/\s+/g, '')))
  .pipe(z.string().regex(/^(worldwide|[A-Z]{2}(,[A-Z]{2})*)$/, messages.writeWorldwideOrCountryCodes))

export const UsesSchema = z.object({
  places: z.array(z.enum(USE_PLACES)).min(1, messages.chooseAtLeastOnePlace),
  earns: z.boolean(),
  territory: Territory,
  publishOn: Day.nullable(),
  videoLicence: z.enum(['CC-BY-SA-4.0', 'CC-BY-SA-3.0', 'CC-BY-NC-SA-4.0', 'CC-BY-NC-SA-3.0']).nullable(),
  platforms: z.array(z.string().trim().min(1).max(80)).max(20).default([]),
  audience: z.number().int().positive().max(10_000_000_000).nullable().default(null),
  seats: z.number().int().positive().max(1_000_000).nullable().default(null),
  publisher: z.enum(['licensee', 'client']).default('licensee'),
})
export type UsesWire = z.infer<typeof UsesSchema>

/** What is taken of a new video until somebody says otherwise. */
export const FRESH_USES: UsesWire = {
  places: ['online'],
  earns: false,
  territory: 'worldwide',
  publishOn: null,
  videoLicence: null,
  platforms: [],
  audience: null,
  seats: null,
  publisher: 'licensee',
}

export const VideoInput = z.object({
  title: z.string().trim().min(1, messages.giveTheVideoATitle).max(200, messages.keepTitleUnder200Characters),
  uses: UsesSchema,
})
export type VideoInput = z.infer<typeof VideoInput>

export const Video = z.object({
  id: z.number().int(),
  title: z.string(),
  uses: UsesSchema,
  createdAt: z.iso.datetime(),
  state: VideoStateWire,
  /** The newest check, if any. */
  check: z
    .object({
      id: z.number().int(),
      state: z.enum(['waiting', 'running', 'done', 'failed', 'cancelled']),
    })
    .nullable(),
})
export type Video = z.infer<typeof Video>
export const VideoList = z.object({ videos: z.array(Video) })
