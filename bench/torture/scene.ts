import path from 'node:path'
import { type Acknowledged, nothingYet } from './activity'
import { broken } from './invariants'
import { type Libraries, serveLibraries } from './libraries'
import type { CampaignOptions } from './run'
import { Server } from './server'

const FIRST_SYNC_MS = 300_000

/** A server on a data folder of its own, with its libraries, and what it has acknowledged. */
export class Scene {
  readonly done: Acknowledged = nothingYet()
  readonly server: Server
  private peakBytes = 0

  private constructor(
    readonly libraries: Libraries,
    private readonly dataDir: string,
    { root, port }: Pick<CampaignOptions, 'root' | 'port'>,
  ) {
    this.server = new Server({ root, dataDir, port, urls: libraries.urls })
  }

  /** @param soundsEach Sounds of each library. @param dataDir By default a folder beside the libraries. */
  static async open(
    options: CampaignOptions,
    soundsEach: number,
    dataDir = path.join(options.dir, 'data'),
  ): Promise<Scene> {
    const libraries = await serveLibraries(path.join(options.dir, 'libraries'), soundsEach, options.seed)
    return new Scene(libraries, dataDir, options)
  }

  /** Synchronises every library, and waits for it. The server runs already. */
  async firstSync(): Promise<void> {
    for (const id of Object.keys(this.libraries.urls)) await this.server.ask('POST', `/api/sources/${id}/sync`)
    await this.server.settled(FIRST_SYNC_MS)
  }

  notePeak(): void {
    this.peakBytes = Math.max(this.peakBytes, this.server.rssBytes())
  }

  /** What does not hold, in sentences. The server is not running. */
  broken(): Promise<string[]> {
    return broken(this.dataDir, this.done, { orderCount: this.libraries.shop.orderCount() })
  }

  /** What every campaign tells. */
  rows(): [string, string | number][] {
    const { evidence, exports, videos, paid, cuts, moments } = this.done
    return [
      [
        'acknowledged: evidence, files, videos, orders, cuts, moments',
        `${evidence.size}, ${exports.size}, ${videos.size}, ${paid.size}, ${cuts.size}, ${moments.size}`,
      ],
      ['orders that the shop took', this.libraries.shop.orderCount()],
      ['peak memory, MB', Math.round(this.peakBytes / 1e6)],
    ]
  }

  async close(): Promise<void> {
    await this.server.kill()
    await this.libraries.close()
  }
}
