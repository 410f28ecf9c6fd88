import { useState } from 'react'
import {
  type LibraryInput,
  type LibraryKind,
  type LibrarySecrets,
  MAX_DESCRIPTION_BYTES,
  type SignInWith,
} from '../../../contract/library-account'
import { firstFree } from '../../../core/first-free'
import { messages } from '../../../messages'
import { useConnectLibrary, useLibraryKinds, useReadDescription, useTryLibrary } from '../../api/account-queries'
import { DialogActions, DialogTitle, ModalDialog } from '../shared/ModalDialog'
import { Failed, Loading } from '../shared/States'
import { KeyFields } from './KeyFields'
import { Tried } from './Tried'

const DESCRIBED = 'described'

/** Connects a library: its kind, where it is, and what signs one in; it can be tried first. */
export function ConnectDialog({ takenNames, onClose }: { takenNames: readonly string[]; onClose: () => void }) {
  const kinds = useLibraryKinds()
  return (
    <ModalDialog className="max-w-3xl" onClose={onClose}>
      <DialogTitle>{messages.common.connectALibrary}</DialogTitle>
      {kinds.isPending && <Loading what={messages.sources.lookingAtTheKindsOf} />}
      {kinds.isError && <Failed error={kinds.error} onRetry={() => void kinds.refetch()} />}
      {kinds.data && <ConnectForm kinds={kinds.data.kinds} takenNames={takenNames} onClose={onClose} />}
    </ModalDialog>
  )
}

interface Fields {
  readonly kind: string
  /** Of a described library, as it was written. */
  readonly text: string
  readonly name: string
  readonly address: string
  readonly signInWith: SignInWith
  readonly secrets: LibrarySecrets
}

function ConnectForm(props: { kinds: readonly LibraryKind[]; takenNames: readonly string[]; onClose: () => void }) {
  const { kinds, takenNames, onClose } = props
  const [fields, setFields] = useState(() => fieldsOf(kinds[0], takenNames))
  const trial = useTryLibrary()
  const connect = useConnectLibrary()
  const read = useReadDescription()
  /** What was tried is not what stands in the form any more. */
  const change = (next: Partial<Fields>): void => {
    setFields((before) => ({ ...before, ...next }))
    trial.reset()
    connect.reset()
  }
  const choose = (kind: string): void => {
    read.reset()
    const known = kinds.find(({ id }) => id === kind)
    change(known ? fieldsOf(known, takenNames) : { ...NOTHING, kind: DESCRIBED, signInWith: 'nothing' })
  }
  const describe = (text: string): void => {
    change({ text })
    read.mutate(text, {
      onSuccess: ({ name, address, signInWith }) =>
        change({ name: freeName(name, takenNames), address, signInWith, secrets: {} }),
    })
  }
  const isDescribed = fields.kind === DESCRIBED
  const isReady = !isDescribed || read.isSuccess
  const failed = connect.error ?? trial.error
  return (
    <form
      onSubmit={(event) => {
        event.preventDefault()
        connect.mutate(inputOf(fields), { onSuccess: onClose })
      }}
    >
      <label className="mb-4 block">
        <span className="small-label block">{messages.common.kind}</span>
        <select className="select w-full" value={fields.kind} onChange={({ target }) => choose(target.value)}>
          {kinds.map(({ id, name, about }) => (
            <option key={id} value={id}>
              {name}: {about}
            </option>
          ))}
          <option value={DESCRIBED}>{messages.sources.anotherLibraryByItsDescription}</option>
        </select>
      </label>
      {isDescribed && <Description error={read.error} onText={describe} />}
      {isReady && (
        <>
          <div className="mb-4 flex flex-wrap gap-4">
            <label className="block min-w-0 flex-1">
              <span className="small-label block">{messages.sources.nameHere}</span>
              <input
                className="input w-full"
                required
                maxLength={120}
                value={fields.name}
                onChange={({ target }) => change({ name: target.value })}
              />
            </label>
            <label className="block min-w-0 flex-1">
              <span className="small-label block">{messages.sources.address}</span>
              <input
                className="input w-full"
                required
                type="url"
                placeholder={messages.sources.httpsLibraryExampleApi}
                maxLength={500}
                value={fields.address}
                onChange={({ target }) => change({ address: target.value })}
              />
            </label>
          </div>
          <KeyFields
            signInWith={fields.signInWith}
            secrets={fields.secrets}
            onChange={(secrets) => change({ secrets })}
          />
        </>
      )}
      {failed && (
        <p role="alert" className="mt-3 text-error">
          {failed.message}
        </p>
      )}
      {trial.data && <Tried tried={trial.data} />}
      <DialogActions leaveBy="cancel" onLeave={onClose}>
        <button
          type="button"
          className="btn"
          disabled={!isReady || trial.isPending}
          onClick={({ currentTarget }) => {
            if (currentTarget.form?.reportValidity()) trial.mutate(inputOf(fields))
          }}
        >
          {trial.isPending ? messages.sources.tryingIt : messages.sources.tryIt}
        </button>
        <button type="submit" className="btn btn-primary" disabled={!isReady || connect.isPending}>
          {connect.isPending ? messages.sources.connecting : messages.sources.connect}
        </button>
      </DialogActions>
    </form>
  )
}

const NOTHING = { text: '', name: '', address: '', secrets: {} } as const

function fieldsOf(kind: LibraryKind | undefined, takenNames: readonly string[]): Fields {
  if (!kind) return { ...NOTHING, kind: DESCRIBED, signInWith: 'nothing' }
  const { id, name, address, signInWith } = kind
  return { ...NOTHING, kind: id, name: freeName(name, takenNames), address: address ?? '', signInWith }
}

/** Two accounts of one library are told apart by their names. */
function freeName(name: string, takenNames: readonly string[]): string {
  return firstFree(name, new Set(takenNames), (number) => `${name} (${number})`)
}

function inputOf({ kind, text, name, address, secrets }: Fields): LibraryInput {
  const of =
    kind === DESCRIBED
      ? { kind: 'described' as const, text }
      : { kind: 'known' as const, id: kind as LibraryKind['id'] }
  return { of, name, address, secrets }
}

function Description({ error, onText }: { error: Error | null; onText: (text: string) => void }) {
  const [tooLarge, setTooLarge] = useState(false)
  const take = async (file: File | undefined): Promise<void> => {
    if (!file) return
    setTooLarge(file.size > MAX_DESCRIPTION_BYTES)
    if (file.size <= MAX_DESCRIPTION_BYTES) onText(await file.text())
  }
  const problem = tooLarge ? messages.sources.aDescriptionIsNoLarger : error?.message
  return (
    <div className="mb-4">
      <label className="block">
        <span className="small-label block">{messages.sources.descriptionYamlOrJson}</span>
        <input
          type="file"
          accept=".yaml,.yml,.json"
          className="file-input w-full"
          onChange={({ target }) => void take(target.files?.[0])}
        />
      </label>
      <p className="quiet mt-1 text-sm">{messages.sources.aTextFileThatSays}</p>
      {problem !== undefined && (
        <p role="alert" className="mt-2 break-words text-error">
          {problem}
        </p>
      )}
    </div>
  )
}
