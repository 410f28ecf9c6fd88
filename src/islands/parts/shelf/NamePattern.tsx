import { useState } from 'react'
import { useChangeShell, useShell } from '../../api/queries'
import { Menu } from '../shared/Menu'

/** How files are named that are downloaded from now on. */
export function NamePattern() {
  const shell = useShell()
  const change = useChangeShell()
  const [text, setText] = useState<string | null>(null)
  if (!shell.data) return null
  const pattern = text ?? shell.data.namePattern
  const example = pattern
    .replaceAll('{title}', 'Dome motor')
    .replaceAll('{maker}', 'Low Orchard')
    .replaceAll('{source}', 'Heron & Slate')
  return (
    <Menu label="File names" side="right">
      {(close) => (
        <form
          className="w-80"
          onSubmit={(event) => {
            event.preventDefault()
            change.mutate({ namePattern: pattern }, { onSuccess: close })
          }}
        >
          <label className="block">
            <span className="small-label block">Downloaded files are called</span>
            <input
              className="input input-sm w-full"
              value={pattern}
              maxLength={120}
              onChange={({ target }) => setText(target.value)}
            />
          </label>
          <p className="quiet my-2 text-sm">
            {'{title}'}, {'{maker}'} and {'{source}'} are filled in; at most 80 characters. For example: {example}.wav
          </p>
          {change.error && (
            <p role="alert" className="text-error">
              {change.error.message}
            </p>
          )}
          <button type="submit" className="btn btn-sm">
            Use this pattern
          </button>
        </form>
      )}
    </Menu>
  )
}
