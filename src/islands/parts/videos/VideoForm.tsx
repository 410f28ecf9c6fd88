import { type FieldErrors, useForm } from 'react-hook-form'
import { FRESH_USES, type Video, VideoInput } from '../../../contract'
import { USE_PLACE_WORDS, USE_PLACES } from '../../../core/rights'
import { messages } from '../../../messages'
import { useSaveVideo } from '../../api/queries'
import { DialogActions, DialogProblem, DialogTitle, ModalDialog } from '../shared/ModalDialog'

type Fields = VideoInput

const FRESH: Fields = { title: '', uses: FRESH_USES }

/** Dialog that makes a video, or changes one. */
export function VideoForm({ video, onClose }: { video: Video | null; onClose: (saved: Video | null) => void }) {
  const save = useSaveVideo(video?.id ?? null)
  const form = useForm<Fields>({
    defaultValues: video ? { title: video.title, uses: video.uses } : FRESH,
    resolver: async (values) => {
      const parsed = VideoInput.safeParse(values)
      if (parsed.success) return { values: parsed.data, errors: {} }
      const errors: FieldErrors<Fields> = {}
      for (const issue of parsed.error.issues) {
        const entry = { type: 'schema', message: issue.message }
        if (issue.path[0] === 'title') errors.title ??= entry
        else errors.uses = { ...errors.uses, [String(issue.path[1])]: entry }
      }
      return { values: {}, errors }
    },
  })
  const { errors } = form.formState
  const submit = form.handleSubmit((values) => save.mutate(values, { onSuccess: (saved) => onClose(saved) }))
  return (
    <ModalDialog onClose={() => onClose(null)}>
      <form onSubmit={(event) => void submit(event)} noValidate>
        <DialogTitle>{video ? messages.videos.changeThisVideo : messages.videos.aNewVideo}</DialogTitle>
        <label className="mb-4 block">
          <span className="small-label block">{messages.common.title}</span>
          <input className="input w-full" {...form.register('title')} aria-invalid={errors.title !== undefined} />
          <Hint message={errors.title?.message} />
        </label>
        <fieldset className="mb-4">
          <legend className="small-label mb-1">{messages.videos.whereItWillBePublished}</legend>
          <div className="grid grid-cols-2 gap-x-4 gap-y-1.5 sm:grid-cols-4">
            {USE_PLACES.map((place) => (
              <label key={place} className="flex items-center gap-2">
                <input
                  type="checkbox"
                  className="checkbox checkbox-sm"
                  value={place}
                  {...form.register('uses.places')}
                />
                <span>{USE_PLACE_WORDS[place]}</span>
              </label>
            ))}
          </div>
          <Hint message={errors.uses?.places?.message} />
        </fieldset>
        <label className="mb-4 flex items-center gap-3">
          <input type="checkbox" className="toggle toggle-sm" {...form.register('uses.earns')} />
          <span>
            {messages.videos.itEarns(<span className="quiet">{messages.videos.advertsSponsorsMembersSale}</span>)}
          </span>
        </label>
        <div className="grid gap-4 sm:grid-cols-3">
          <label className="block">
            <span className="small-label block">{messages.videos.territory}</span>
            <input className="input w-full" {...form.register('uses.territory')} />
            <Hint message={errors.uses?.territory?.message} />
          </label>
          <label className="block">
            <span className="small-label block">{messages.videos.publishDate}</span>
            <input
              type="date"
              className="input w-full"
              {...form.register('uses.publishOn', { setValueAs: (value: string) => value || null })}
            />
            <Hint message={errors.uses?.publishOn?.message} />
          </label>
          <label className="block">
            <span className="small-label block">{messages.videos.theVideosOwnLicence}</span>
            <select
              className="select w-full"
              {...form.register('uses.videoLicence', { setValueAs: (value: string) => value || null })}
            >
              <option value="">{messages.videos.allRightsReserved}</option>
              <option value="CC-BY-SA-4.0">{messages.videos.ccBySa40}</option>
              <option value="CC-BY-NC-SA-4.0">{messages.videos.ccByNcSa4}</option>
              <option value="CC-BY-SA-3.0">{messages.videos.ccBySa30}</option>
              <option value="CC-BY-NC-SA-3.0">{messages.videos.ccByNcSa3}</option>
            </select>
          </label>
          <label className="block sm:col-span-2">
            <span className="small-label block">{messages.videos.platformsWhereTermsAskWith}</span>
            <input
              className="input w-full"
              defaultValue={form.getValues('uses.platforms').join(', ')}
              {...form.register('uses.platforms', { setValueAs: listOf })}
            />
          </label>
          <label className="block">
            <span className="small-label block">{messages.videos.peopleExpectedWhereAsked}</span>
            <input
              type="number"
              min="1"
              className="input w-full"
              {...form.register('uses.audience', { setValueAs: (value: unknown) => Number(value) || null })}
            />
            <Hint message={errors.uses?.audience?.message} />
          </label>
          <label className="block sm:col-span-2">
            <span className="small-label block">{messages.videos.publishedBy}</span>
            <select className="select w-full" {...form.register('uses.publisher')}>
              <option value="licensee">{messages.videos.usWhoHoldTheLicences}</option>
              <option value="client">{messages.videos.aClientThatItIs}</option>
            </select>
          </label>
          <label className="block">
            <span className="small-label block">{messages.videos.peopleWorkingOnIt}</span>
            <input
              type="number"
              min="1"
              className="input w-full"
              {...form.register('uses.seats', { setValueAs: (value: unknown) => Number(value) || null })}
            />
            <Hint message={errors.uses?.seats?.message} />
          </label>
        </div>
        <DialogProblem error={save.error} />
        <DialogActions leaveBy="cancel" onLeave={() => onClose(null)}>
          <button type="submit" className="btn btn-primary" disabled={save.isPending}>
            {video ? messages.common.save : messages.videos.addTheVideo}
          </button>
        </DialogActions>
      </form>
    </ModalDialog>
  )
}

/** Names between commas; what is a list already stays one. */
function listOf(value: unknown): string[] {
  if (Array.isArray(value)) return value as string[]
  return String(value ?? '')
    .split(',')
    .map((name) => name.trim())
    .filter(Boolean)
}

function Hint({ message }: { message: string | undefined }) {
  return message ? (
    <span role="alert" className="mt-1 block text-sm text-error">
      {message}
    </span>
  ) : null
}
