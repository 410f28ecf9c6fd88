import { useMutation, useQueryClient } from '@tanstack/react-query'
import { z } from 'zod'
import type { AnswerInput } from '../../contract'
import { send } from './client'

const Answered = z.object({ answerId: z.number().int() })

/** Settles a point of a video, undoes that, or brings it back. */
export function useAnswers(videoId: number) {
  const client = useQueryClient()
  const onSuccess = () =>
    Promise.all(['check', 'videos', 'desk', 'jobs'].map((key) => client.invalidateQueries({ queryKey: [key] })))
  const answer = useMutation({
    mutationFn: (input: AnswerInput) => send('POST', `/api/videos/${videoId}/answers`, Answered, input),
    onSuccess,
  })
  const undo = useMutation({
    mutationFn: ({ answerId, undone }: { answerId: number; undone: boolean }) =>
      send('PATCH', `/api/answers/${answerId}`, z.object({ undone: z.boolean() }), { undone }),
    onSuccess,
  })
  return { answer, undo }
}
