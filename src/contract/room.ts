import { z } from 'zod'

/** What takes how much room. */
export const Room = z.object({
  items: z.array(
    z.object({
      what: z.enum(['videos', 'copies', 'own files', 'evidence', 'previews', 'features', 'database', 'unused']),
      bytes: z.number().nonnegative(),
      count: z.number().int().nonnegative(),
    }),
  ),
  freeBytes: z.number().nonnegative(),
})
export type Room = z.infer<typeof Room>

/** Files of a video that were brought, the newest first. */
export const VideoFiles = z.object({
  files: z.array(
    z.object({ id: z.number().int(), fileName: z.string(), sizeBytes: z.number(), broughtAt: z.iso.datetime() }),
  ),
})
export type VideoFiles = z.infer<typeof VideoFiles>

/** Removes something, or brings it back. */
export const RemovalInput = z.object({ removed: z.boolean() })

/** What was removed and can still be brought back, the newest first. */
export const RemovedThings = z.object({
  removed: z.array(
    z.object({
      what: z.enum(['videos', 'exports', 'checks', 'cuts', 'sources']),
      /** A number; for a source its name in addresses. */
      id: z.union([z.number().int(), z.string()]),
      /** Title of the video, name of the file or of the source. */
      name: z.string(),
      /** The video that it belongs to; null for a video. */
      videoTitle: z.string().nullable(),
      removedAt: z.iso.datetime(),
    }),
  ),
})
export type RemovedThings = z.infer<typeof RemovedThings>
