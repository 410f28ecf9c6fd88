import { Check } from 'lucide-react'
import { type ReactNode, useLayoutEffect, useRef } from 'react'
import { Link } from 'wouter'
import { messages } from '../../messages'
import { isUnderWay } from '../api/job-list'
import { useJobs } from '../api/jobs'
import { useShell, useSources, useSync, useVideos } from '../api/queries'
import { FirstFilm } from '../parts/first/FirstFilm'
import { FirstResult } from '../parts/first/FirstResult'
import { FIRST_STEP_TITLES } from '../parts/first/first-step-words'
import { FIRST_STEPS, type FirstStep, type FirstStepsState, firstStepsOf, hasSounds } from '../parts/first/first-steps'
import { LicenseeForm } from '../parts/first/LicenseeForm'
import { Failed, Loading } from '../parts/shared/States'

/** The first quarter of an hour: four steps, each of which does its work right here. */
export function FirstSteps() {
  const shell = useShell()
  const videos = useVideos()
  const jobs = useJobs()
  const listRef = useRef<HTMLOListElement>(null)
  const steps = shell.data && videos.data ? firstStepsOf(shell.data, videos.data.videos, jobs) : null
  const current = steps?.current
  // What is to be done now has the focus from the moment it is seen, unless one is at work elsewhere.
  useLayoutEffect(() => {
    if (current === undefined || document.activeElement !== document.body) return
    const wanted = `[data-first-step="${current ?? messages.first.result}"] :is(input:not([type="file"]), .btn-primary)`
    listRef.current?.querySelector<HTMLElement>(wanted)?.focus()
  }, [current])
  const failed = [shell, videos].find(({ isError }) => isError)
  if (failed) return <Failed error={failed.error} onRetry={() => void failed.refetch()} />
  if (!shell.data || !steps) return <Loading what={messages.first.openingTheFirstSteps} />
  return (
    <div className="relative h-full overflow-y-auto">
      <div className="mx-auto max-w-3xl px-10 py-8">
        <h1 className="mb-2 text-3xl font-semibold">{messages.first.firstSteps}</h1>
        <p className="quiet mb-6 max-w-xl">{messages.first.goodThudSearchesSeveralStock}</p>
        <ol ref={listRef}>
          {FIRST_STEPS.map((step, at) => (
            <Step key={step} number={at + 1} step={step} steps={steps}>
              {step === 'licensee' && <LicenseeForm licensee={shell.data.licensee} isNow={steps.current === step} />}
              {step === 'library' && <Libraries isNow={steps.current === step} />}
              {step === 'film' && <FirstFilm isNow={steps.current === step} video={steps.video} />}
              {step === 'result' && <FirstResult video={steps.video} isNow={steps.current === null} />}
            </Step>
          ))}
        </ol>
        <p className="mt-6 border-t ruled pt-4">
          <Link href="/find" className="underline underline-offset-2">
            {hasSounds(shell.data) ? messages.common.goToFind : messages.first.skipThis}
          </Link>{' '}
          <span className="quiet">{messages.first.theseStepsStayAtFirst}</span>
        </p>
      </div>
    </div>
  )
}

interface StepProps {
  readonly number: number
  readonly step: FirstStep
  readonly steps: FirstStepsState
  readonly children: ReactNode
}

function Step({ number, step, steps, children }: StepProps) {
  const isDone = steps.done.has(step)
  return (
    <li
      className="grid grid-cols-[2.500rem_1fr] gap-3 border-t ruled py-4"
      data-first-step={step}
      data-done={isDone}
      aria-current={steps.current === step ? 'step' : undefined}
    >
      <span className="pt-0.5 font-display text-2xl font-semibold leading-none">
        {isDone ? <Check size={24} aria-label={messages.first.done} /> : <span aria-hidden="true">{number}</span>}
      </span>
      <div className="min-w-0">
        <h2 className={`text-xl font-semibold ${isDone || steps.current === step ? '' : 'quiet'}`}>
          {FIRST_STEP_TITLES[step]}
        </h2>
        {children}
      </div>
    </li>
  )
}

/** The libraries that can be connected, with how far each is. */
function Libraries({ isNow }: { isNow: boolean }) {
  const sources = useSources()
  const sync = useSync()
  const jobs = useJobs()
  const reading = jobs.find((job) => job.kind === 'mirror' && isUnderWay(job))
  if (sources.isError) return <Failed error={sources.error} onRetry={() => void sources.refetch()} />
  return (
    <ul className="mt-2">
      {sources.data?.sources
        .filter(({ kind }) => kind === 'library')
        .map((source, at) => (
          <li key={source.id} className="flex items-center justify-between gap-6 py-2">
            <div className="min-w-0">
              <p className="font-semibold">{source.name}</p>
              <p className="quiet text-sm">{source.about}</p>
              {source.lastError && (
                <p role="alert" className="text-sm text-error">
                  {source.lastError}
                </p>
              )}
            </div>
            {(source.soundCount > 0 || (source.live && source.connected)) && !source.lastError ? (
              <span className="shrink-0 text-sm">
                {source.live ? messages.first.searchedWhileYouType : messages.counts.sounds(source.soundCount)}
              </span>
            ) : (
              <button
                type="button"
                className={`btn btn-sm shrink-0 ${isNow && at === 0 ? 'btn-primary' : ''}`}
                disabled={reading !== undefined || sync.isPending}
                aria-label={messages.first.connectNamed(source.name)}
                onClick={() => sync.mutate(source.id)}
              >
                {source.lastError ? messages.common.tryAgain : messages.first.connectButton}
              </button>
            )}
          </li>
        ))}
      <li aria-live="polite" className="text-sm">
        {reading && `${reading.title}: ${reading.message || messages.first.starting} …`}
      </li>
      {sync.error && (
        <li role="alert" className="text-error">
          {sync.error.message}
        </li>
      )}
    </ul>
  )
}
