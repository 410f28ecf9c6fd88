import { Link } from 'wouter'
import type { Video } from '../../contract'
import { messages } from '../../messages'
import { useCheck } from '../api/queries'
import { startsInWords } from '../format/places'
import { Credits } from '../parts/clearance/Credits'
import { Empty, Failed, Loading } from '../parts/shared/States'
import { VerdictMark } from '../parts/shared/VerdictMark'

/** What has to stand in the description, and what shows that each sound may be used. */
export function CreditsStep({ video }: { video: Video }) {
  const query = useCheck(video.check?.id ?? null)
  if (!video.check)
    return (
      <Empty
        title={messages.clearance.nothingToCreditYet}
        action={
          <Link href={`/videos/${video.id}/clearance`} className="btn btn-primary">
            {messages.clearance.goToClearance}
          </Link>
        }
      >
        {messages.clearance.creditsAndProofAreOf}
      </Empty>
    )
  if (query.isPending) return <Loading what={messages.clearance.openingTheCredits} />
  if (query.isError) return <Failed error={query.error} onRetry={() => void query.refetch()} />
  const check = query.data
  return (
    <div className="grid grid-cols-[minmax(0,1fr)_minmax(0,1fr)] gap-10 max-lg:grid-cols-1">
      <Credits text={check.credits} />
      <section aria-labelledby="proof">
        <h2 id="proof" className="mb-1 text-2xl font-semibold">
          {messages.clearance.proof}
        </h2>
        <p className="quiet mb-2">{messages.clearance.whatWasHeardInAnd(check.fileName)}</p>
        <ul>
          {check.findings.map((finding) => (
            <li key={finding.soundId} className="border-t ruled py-1.5">
              <span className="flex items-baseline gap-3">
                <span className="min-w-0 flex-1 truncate font-semibold">{finding.title}</span>
                <span className="quiet whitespace-nowrap text-sm">{startsInWords(finding.detections)}</span>
                <VerdictMark verdict={finding.verdict} />
              </span>
              <span className="quiet block text-sm">{finding.sentence}</span>
            </li>
          ))}
        </ul>
        <p className="mt-3 flex flex-wrap gap-x-5 border-t ruled pt-3">
          {check.factsSha256 && (
            <a className="underline underline-offset-2" href={`/api/checks/${check.id}/facts`} download>
              {messages.clearance.factsOfTheCheckJson}
            </a>
          )}
          <Link className="underline underline-offset-2" href="/papers/ledger">
            {messages.clearance.theLedger}
          </Link>
        </p>
      </section>
    </div>
  )
}
