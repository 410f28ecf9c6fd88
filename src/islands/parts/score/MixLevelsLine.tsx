import { messages } from '../../../messages'
import { dbtpWords, lufsWords } from '../../format/score-words'
import type { MixPlayer } from '../../score/use-mix-player'

/** What the mix sounds like now, in figures; and how well sound and picture keep together. */
export function MixLevelsLine({ mix }: { mix: MixPlayer }) {
  const { levels, health } = mix
  return (
    <p className="quiet mt-1.5 flex flex-wrap gap-x-3 text-sm tabular-nums" aria-live="off" data-testid="mix-levels">
      {levels ? (
        <>
          <span>{messages.score.now(lufsWords(levels.shortTermLufs))}</span>
          <span>{messages.score.soFar(lufsWords(levels.integratedLufs), dbtpWords(levels.truePeakDbtp))}</span>
          <span>{messages.score.sidesAlike(levels.correlation.toFixed(2))}</span>
          {levels.mostLimitedDb < -0.1 && <span>{messages.score.limiterDb(levels.mostLimitedDb.toFixed(1))}</span>}
        </>
      ) : (
        <span>{messages.score.playToMeasureWhatIs}</span>
      )}
      {health && (
        <span hidden data-testid="mix-health" data-drift-s={health.driftS} data-underruns={health.underruns} />
      )}
    </p>
  )
}
