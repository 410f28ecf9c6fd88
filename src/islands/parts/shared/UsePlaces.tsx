import { USE_PLACE_WORDS, USE_PLACES, type UsePlace } from '../../../core/rights'
import { messages } from '../../../messages'

interface UsePlacesProps {
  readonly places: readonly UsePlace[]
  /** Class of the columns that the places stand in. */
  readonly columns: string
  readonly onChange: (places: UsePlace[]) => void
}

/** Where a video will be published: each place to be ticked. */
export function UsePlaces({ places, columns, onChange }: UsePlacesProps) {
  return (
    <fieldset>
      <legend className="small-label mb-1">{messages.shared.whereItWillBePublished}</legend>
      <div className={`grid gap-x-4 gap-y-1.5 ${columns}`}>
        {USE_PLACES.map((place) => (
          <label key={place} className="flex items-center gap-2">
            <input
              type="checkbox"
              className="checkbox checkbox-sm"
              checked={places.includes(place)}
              onChange={({ target }) =>
                onChange(target.checked ? [...places, place] : places.filter((one) => one !== place))
              }
            />
            {USE_PLACE_WORDS[place]}
          </label>
        ))}
      </div>
    </fieldset>
  )
}
