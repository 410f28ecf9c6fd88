import type { APIRoute } from 'astro'
import { AnswerInput } from '../../../../contract'
import { endpoint, idParam, jsonBody } from '../../../../server/answer'
import { enqueueCatchUps } from '../../../../server/checks/catch-up'
import { answerPoint } from '../../../../server/clearance/answers'
import { todayIso } from '../../../../server/database/db'

/** Settles a point of a video with the creator's word. A sound that a stretch is said to be from is looked for there. */
export const POST: APIRoute = endpoint(async (app, { params, request }) => {
  const answered = await answerPoint(app, idParam(params), await jsonBody(request, AnswerInput), todayIso())
  await enqueueCatchUps(app)
  return answered
})
