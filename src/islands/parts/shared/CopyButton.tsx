import { Check, Copy } from 'lucide-react'
import { useState } from 'react'
import { messages } from '../../../messages'

const SAID_MS = 2500

/** Copies a text; says so, or says how to do it by hand. */
export function CopyButton({ text, label, primary = false }: { text: string; label: string; primary?: boolean }) {
  const [state, setState] = useState<'ready' | 'copied' | 'refused'>('ready')
  const copy = async (): Promise<void> => {
    try {
      await navigator.clipboard.writeText(text)
      setState('copied')
    } catch {
      setState('refused')
    }
    setTimeout(() => setState('ready'), SAID_MS)
  }
  return (
    <button type="button" className={`btn btn-sm ${primary ? 'btn-primary' : 'btn-ghost'}`} onClick={() => void copy()}>
      {state === 'copied' ? <Check size={16} aria-hidden="true" /> : <Copy size={16} aria-hidden="true" />}
      <span aria-live="polite">
        {state === 'copied' ? messages.shared.copied : state === 'refused' ? messages.shared.selectItAndCopyBy : label}
      </span>
    </button>
  )
}
