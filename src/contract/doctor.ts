import { z } from 'zod'

/** What repairs a damage. */
export const REPAIRS = ['fetch again', 'read again', 'make again', 'restore', 'forget', 'none'] as const

/** One thing that is not as it should be. */
export const Damage = z.object({
  /** "changed": its content is not that of its name; "missing": it is named and not there; "unused": nothing names it. */
  kind: z.enum(['changed', 'missing', 'features', 'unused', 'database', 'ledger']),
  sha256: z.string().nullable(),
  sentence: z.string(),
  repair: z.enum(REPAIRS),
})
export type Damage = z.infer<typeof Damage>

/** What an examination of the data folder came to. */
export const DoctorReport = z.object({
  at: z.iso.datetime(),
  fileCount: z.number().int().nonnegative(),
  bytes: z.number().nonnegative(),
  damages: z.array(Damage),
  /** Sounds of which what hearing needs is queued to be made again, as after a restore. */
  remaking: z.number().int().nonnegative().default(0),
})
export type DoctorReport = z.infer<typeof DoctorReport>

/** The last examination, or null. */
export const DoctorWire = z.object({ report: DoctorReport.nullable() })

/** How backups are made by themselves. */
export const BackupPlan = z.object({
  /** Absolute path of a folder. */
  folder: z.string().min(1).max(1000),
  /** How many are kept. */
  keepCount: z.number().int().min(1).max(100),
  everyDays: z.number().int().min(1).max(90).nullable(),
})
export type BackupPlan = z.infer<typeof BackupPlan>

export const BackupWire = z.object({
  plan: BackupPlan.nullable(),
  last: z.object({ at: z.iso.datetime(), fileCount: z.number(), bytes: z.number(), newBytes: z.number() }).nullable(),
})
export type BackupWire = z.infer<typeof BackupWire>
