import { logBytes } from '../database/checkpoint'
import { type Pool, runTask } from './pool'
import type { CheckpointTask } from './tasks'

/** From this size on the log of what was written is moved into the database, bytes. */
const MOVED_FROM_BYTES = 8 * 1024 * 1024
/** A log of this size is waited for by who writes much, bytes. */
const WAITED_FROM_BYTES = 48 * 1024 * 1024
/** How often it is looked whether much was written, ms. */
const LOOK_EVERY_MS = 1000

/** Moves what was written from the log into the database in a thread, so that nobody waits for the disk. */
export class Checkpoints {
  private moving: Promise<void> | null = null
  private readonly timer: NodeJS.Timeout

  constructor(
    private readonly dataDir: string,
    private readonly pool: Pool,
  ) {
    this.timer = setInterval(() => {
      if (logBytes(dataDir) > MOVED_FROM_BYTES) void this.move()
    }, LOOK_EVERY_MS)
    this.timer.unref()
  }

  /**
   * For who writes much, between two transactions: waits while the log is long. It begins anew only when all of it was moved and nobody wrote
   * meanwhile; without such a pause it grows until a request has to move it.
   */
  async catchUp(): Promise<void> {
    if (logBytes(this.dataDir) >= WAITED_FROM_BYTES) await this.settle()
  }

  /** Moves all that was written so far, however little: what follows has nothing before it to wait for. */
  async settle(): Promise<void> {
    // What is under way may have begun before the last was written.
    await this.moving
    await this.move()
  }

  end(): void {
    clearInterval(this.timer)
  }

  private move(): Promise<void> {
    this.moving ??= runTask<number>(this.pool, 'checkpointDatabase', { dataDir: this.dataDir } satisfies CheckpointTask)
      .then(
        () => undefined,
        // What could not be moved is moved the next time; until then it is safe in the log.
        () => undefined,
      )
      .finally(() => {
        this.moving = null
      })
    return this.moving
  }
}
