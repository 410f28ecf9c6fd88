import { useState } from 'react'
import { messages } from '../../../messages'
import { useChangeShell } from '../../api/queries'

/** Asks for the name that papers are written to. */
export function LicenseeForm({ licensee, isNow }: { licensee: string; isNow: boolean }) {
  const change = useChangeShell()
  const [name, setName] = useState('')
  if (licensee !== '') return <p>{licensee}</p>
  return (
    <form
      className="mt-2 max-w-md"
      onSubmit={(event) => {
        event.preventDefault()
        if (name.trim()) change.mutate({ licensee: name })
      }}
    >
      <div className="flex gap-2">
        <label className="flex-1">
          <span className="sr-only">{messages.first.nameOfTheLicenceHolder}</span>
          <input
            className="input w-full"
            placeholder={messages.first.yourNameOrYourChannel}
            maxLength={200}
            value={name}
            onChange={({ target }) => setName(target.value)}
          />
        </label>
        <button type="submit" className={`btn ${isNow ? 'btn-primary' : ''}`} disabled={name.trim() === ''}>
          {messages.common.save}
        </button>
      </div>
      {change.error && (
        <p role="alert" className="mt-1 text-error">
          {change.error.message}
        </p>
      )}
    </form>
  )
}
