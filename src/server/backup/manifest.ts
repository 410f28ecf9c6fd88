import { z } from 'zod'

const Sha256 = z.string().regex(/^[0-9a-f]{64}$/)

/** What stands beside a saved database. */
export const BackupManifest = z.object({
  format: z.literal('good-thud-backup'),
  version: z.literal(1),
  at: z.iso.datetime(),
  database: z.object({ sha256: Sha256, sizeBytes: z.number().int().positive() }),
  /** Newest migration of the database. */
  schema: z.string(),
  ledgerHead: z.object({ number: z.number().int().nonnegative(), hash: z.string() }),
  /** Every stored file that the database names, by its hash, and its size in bytes. */
  files: z.record(Sha256, z.number().int().nonnegative()),
  /** Named by the database and not there when it was saved. */
  missing: z.array(Sha256),
})
export type BackupManifest = z.infer<typeof BackupManifest>

/** What a backup came to. */
export const BackupSummary = z.object({
  at: z.iso.datetime(),
  fileCount: z.number().int(),
  bytes: z.number(),
  /** Of these, what was not in the folder yet. */
  newBytes: z.number(),
})
export type BackupSummary = z.infer<typeof BackupSummary>

/** A backup that is not one, or not whole. The message says what to do. */
export class BackupError extends Error {
  override readonly name = 'BackupError'
  constructor(
    readonly code: 'not-a-backup' | 'damaged' | 'not-empty' | 'inside',
    message: string,
    options?: ErrorOptions,
  ) {
    super(message, options)
  }
}
