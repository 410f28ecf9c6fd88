import { useState } from 'react'
import { messages } from '../../../messages'
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
    .replaceAll('{title}', messages.shelf.domeMotor)
    .replaceAll('{maker}', messages.shelf.lowOrchard)
    .replaceAll('{source}', messages.shelf.heronSlate)
  return (
    <Menu label={messages.shelf.fileNames} side="right">
      {(close) => (
        <form
          className="w-80"
          onSubmit={(event) => {
            event.preventDefault()
            change.mutate({ namePattern: pattern }, { onSuccess: close })
          }}
        >
          <label className="block">
            <span className="small-label block">{messages.shelf.downloadedFilesAreCalled}</span>
            <input
              className="input input-sm w-full"
              value={pattern}
              maxLength={120}
              onChange={({ target }) => setText(target.value)}
            />
          </label>
          <p className="quiet my-2 text-sm">{messages.shelf.titleMakerAndSourceAre(example)}</p>
          {change.error && (
            <p role="alert" className="text-error">
              {change.error.message}
            </p>
          )}
          <button type="submit" className="btn btn-sm">
            {messages.shelf.useThisPattern}
          </button>
        </form>
      )}
    </Menu>
  )
}
