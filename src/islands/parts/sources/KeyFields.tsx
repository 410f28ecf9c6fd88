import type { LibrarySecrets, SignInWith } from '../../../contract/library-account'
import { messages } from '../../../messages'

/** What signs one in at a library. Typed once and never shown again. */
export function KeyFields(props: {
  signInWith: SignInWith
  secrets: LibrarySecrets
  onChange: (secrets: LibrarySecrets) => void
}) {
  const { signInWith, secrets, onChange } = props
  if (signInWith === 'nothing') return <p className="quiet">{messages.sources.thisLibraryNeedsNoSign}</p>
  const field = (name: keyof LibrarySecrets, label: string) => (
    <label className="block min-w-0 flex-1">
      <span className="small-label block">{label}</span>
      <input
        className="input w-full"
        type={name === 'user' ? 'text' : 'password'}
        autoComplete="off"
        required
        maxLength={2000}
        value={secrets[name] ?? ''}
        onChange={({ target }) => onChange({ ...secrets, [name]: target.value })}
      />
    </label>
  )
  return (
    <div className="flex flex-wrap gap-4">
      {signInWith === 'key' ? (
        field('key', messages.sources.key)
      ) : (
        <>
          {field('user', messages.sources.userName)}
          {field('password', messages.sources.password)}
        </>
      )}
    </div>
  )
}
