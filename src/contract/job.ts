import { z } from 'zod'

export const JOB_KINDS = [
  'mirror',
  'download',
  'purchase',
  'scan',
  'check',
  'describe',
  'batch',
  'group',
  'catch-up',
  'sweep',
  'verify',
  'doctor',
  'remake',
  'backup',
  'cut',
  'mix',
  'prepare',
] as const
export const JobState = z.enum(['queued', 'running', 'done', 'failed', 'cancelled'])

export const Job = z.object({
  id: z.number().int(),
  kind: z.enum(JOB_KINDS),
  /** What the job is about: a source, a sound, an order, a check. */
  subject: z.string(),
  title: z.string(),
  state: JobState,
  progressFraction: z.number().min(0).max(1),
  /** What it is doing, or why it failed, in a sentence. */
  message: z.string(),
  createdAt: z.iso.datetime(),
  finishedAt: z.iso.datetime().nullable(),
})
export type Job = z.infer<typeof Job>
export const JobList = z.object({ jobs: z.array(Job) })
/** What is told first to who listens for jobs. */
export const JobsNow = z.object({ at: z.iso.datetime(), jobs: z.array(Job) })
export type JobsNow = z.infer<typeof JobsNow>
export const JobStarted = z.object({ jobId: z.number().int().nullable(), already: z.boolean() })
