import type { RefObject } from 'react'
import { messages } from '../../../messages'

interface CaptionFileInputProps {
  readonly inputRef: RefObject<HTMLInputElement | null>
  readonly onFile: (file: File) => void
}

/** The field that a button opens to choose captions; the same file can be chosen again. */
export function CaptionFileInput({ inputRef, onFile }: CaptionFileInputProps) {
  return (
    <input
      ref={inputRef}
      type="file"
      accept=".srt,.vtt"
      className="hidden"
      aria-label={messages.videos.captionFile}
      onChange={({ target }) => {
        const [file] = target.files ?? []
        if (file) onFile(file)
        target.value = ''
      }}
    />
  )
}
