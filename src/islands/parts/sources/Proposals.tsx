import { useState } from 'react'
import type { ProposalWire } from '../../../contract'
import { useAnswerProposal, useProposals } from '../../api/papers-queries'
import { counted } from '../../format/words'
import { Reading } from '../terms/Reading'
import type { TermsSaid } from '../terms/TermsChoice'

/** Texts that lay beside files of own folders and speak of rights. They are proposed, never assumed. */
export function Proposals() {
  const query = useProposals()
  const proposals = query.data?.proposals ?? []
  if (proposals.length === 0) return null
  return (
    <section className="mb-8">
      <h2 className="mb-2 text-xl font-semibold">Found beside your files</h2>
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
        <strong>{path}</strong> <span className="quiet">in {sourceName}</span>
        {reading.licences.length > 0 ? ' speaks of a licence' : ' says something of rights'}. It would become the papers
        of {counted(soundCount, 'sound')}.
      </p>
      <details className="my-2">
        <summary className="cursor-pointer text-sm underline">Read it</summary>
        <pre className="mt-1 max-h-48 overflow-y-auto whitespace-pre-wrap rounded border ruled bg-base-200 p-3 font-sans text-sm">
          {text}
        </pre>
      </details>
      {known ? (
        <p className="mb-2">
          <strong>{known.title}</strong>, by “{known.quote}”.{' '}
          <button type="button" className="btn btn-ghost btn-xs" onClick={() => setTerms(asText)}>
            Read it point by point
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
          Use as their papers
        </button>
        <button
          type="button"
          className="btn btn-sm btn-ghost"
          disabled={answer.isPending}
          onClick={() => answer.mutate({ id, answer: { accept: false } })}
        >
          Dismiss
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
