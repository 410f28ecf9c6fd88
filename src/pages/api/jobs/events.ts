import type { APIRoute } from 'astro'
import type { Job, JobsNow } from '../../../contract'
import { endpoint } from '../../../server/answer'

/** So many of the newest jobs are told when someone begins to listen. */
const LISTED = { maxEnded: 100 }
/** A comment is sent this often, so that a dead connection is noticed, ms. */
const HEARTBEAT_MS = 15_000

/** Changes of jobs as server-sent events; the open jobs come first. */
export const GET: APIRoute = endpoint(async (app, { request }) => {
  const encoder = new TextEncoder()
  let stop = (): void => {}
  const stream = new ReadableStream<Uint8Array>({
    async start(controller) {
      /** What happens while the list is being read; null once that was told. */
      let meanwhile: Job[] | null = []
      const tell = (name: 'job' | 'jobs', data: Job | JobsNow): void =>
        controller.enqueue(encoder.encode(`event: ${name}\ndata: ${JSON.stringify(data)}\n\n`))
      const send = (job: Job): void => {
        if (meanwhile) meanwhile.push(job)
        else tell('job', job)
      }
      const heartbeat = setInterval(() => controller.enqueue(encoder.encode(': still here\n\n')), HEARTBEAT_MS)
      stop = () => {
        clearInterval(heartbeat)
        app.jobs.off('job', send)
      }
      request.signal.addEventListener('abort', stop, { once: true })
      controller.enqueue(encoder.encode('retry: 1000\n\n'))
      app.jobs.on('job', send)
      // The whole list first: what ended while nobody listened is told as ended.
      const jobs = await app.jobs.list(LISTED)
      tell('jobs', { at: new Date().toISOString(), jobs })
      for (const job of meanwhile) tell('job', job)
      meanwhile = null
    },
    cancel: () => stop(),
  })
  return new Response(stream, { headers: { 'Content-Type': 'text/event-stream', 'Cache-Control': 'no-store' } })
})
