import { useState } from 'react'
import type { ProposalWire } from '../../../contract'
import { messages } from '../../../messages'
import { useAnswerProposal, useProposals } from '../../api/papers-queries'
import { Reading } from '../terms/Reading'
import type { TermsSaid } from '../terms/TermsChoice'

/** Texts that lay beside files of own folders and speak of rights. They are proposed, never assumed. */
export function Proposals() {
  const query = useProposals()
  const proposals = query.data?.proposals ?? []
  if (proposals.length === 0) return null
  return (
    <section className="mb-8">
      <h2 className="mb-2 text-xl font-semibold">{messages.sources.foundBesideYourFiles}</h2>
      <ul>
        {proposals.map((proposal) => (
          <Proposal key={proposal.id} proposal={proposal} />
        ))}
      </ul>
    </section>
  )
}

function Proposal({ proposal }: { proposal: ProposalWire }) {
  const { id, path, sourceName, soundCount, text, reading } = proposal
  const answer = useAnswerProposal()
  const asText: TermsSaid = { kind: 'text', title: path, text, confirmed: [], setAside: [] }
  // Nothing is chosen beforehand: what a text names is for the creator to take.
  const [terms, setTerms] = useState<TermsSaid>(asText)
  const known = reading.licences.find(({ spdxId }) => terms.kind === 'known' && terms.spdxId === spdxId)
  const ready = terms.kind === 'known' || (terms.kind === 'text' && terms.confirmed.length > 0)
  return (
    <li className="border-t ruled py-4">
      <p>
        <strong>{path}</strong> <span className="quiet">{messages.sources.in(sourceName)}</span>
        {reading.licences.length > 0 ? messages.sources.speaksOfALicence : messages.sources.saysSomethingOfRights}
        {messages.sources.itWouldBecomeThePapers(messages.counts.sounds(soundCount))}
      </p>
      <details className="my-2">
        <summary className="cursor-pointer text-sm underline">{messages.sources.readIt}</summary>
        <pre className="mt-1 max-h-48 overflow-y-auto whitespace-pre-wrap rounded border ruled bg-base-200 p-3 font-sans text-sm">
          {text}
        </pre>
      </details>
      {known ? (
        <p className="mb-2">
          {messages.sources.by(<strong>{known.title}</strong>, known.quote)}{' '}
          <button type="button" className="btn btn-ghost btn-xs" onClick={() => setTerms(asText)}>
            {messages.sources.readItPointByPoint}
          </button>
        </p>
      ) : (
        terms.kind === 'text' && <Reading reading={reading} value={terms} onChange={setTerms} />
      )}
      <div className="mt-2 flex gap-2">
        <button
          type="button"
          className="btn btn-sm btn-primary"
          disabled={!ready || answer.isPending}
          onClick={() => {
            if (terms.kind !== 'unknown' && terms.kind !== 'filed')
              answer.mutate({ id, answer: { accept: true, terms } })
          }}
        >
          {messages.sources.useAsTheirPapers}
        </button>
        <button
          type="button"
          className="btn btn-sm btn-ghost"
          disabled={answer.isPending}
          onClick={() => answer.mutate({ id, answer: { accept: false } })}
        >
          {messages.common.dismiss}
        </button>
      </div>
      {answer.error && (
        <p role="alert" className="mt-1 text-error">
          {answer.error.message}
        </p>
      )}
    </li>
  )
}
