import fs from 'node:fs'
import {
  File,
  Id3v2Settings,
  type Id3v2Tag,
  Id3v2UserTextInformationFrame,
  type File as TaggedFile,
  TagTypes,
  type XiphComment,
} from 'node-taglib-sharp'
import { isTaggedEnding } from '../../core/formats/media-endings'
import { withWavRights } from '../../core/formats/wav-tags'
import { workers as messages } from '../../messages/server/workers'

/** Rights as a copy carries them in its tags. */
export interface FileRights {
  readonly title: string
  readonly maker: string
  readonly source: string
  readonly licenceTitle: string
  readonly licenceUrl: string | null
  readonly creditLine: string | null
  readonly acquisitionId: string
  /** YYYY-MM-DD. */
  readonly acquiredOn: string
}

/** A WAV larger than this is not rewritten in memory, bytes. */
const MAX_WAV_BYTES = 700 * 1024 * 1024

/**
 * Writes rights into the tags of a file, in place: RIFF INFO, bext and iXML, ID3v2, or Vorbis comments. The audio stays bit for bit.
 *
 * @returns false when this kind of file takes no tags, or is too large to be rewritten; it is left as it is then.
 * @throws Error when the file is not what its ending says.
 */
export function tagFile(path: string, ending: string, rights: FileRights): boolean {
  if (!isTaggedEnding(ending)) return false
  if (ending === 'wav') return tagWav(path, rights)
  // Texts in UTF-8 need version 4 of the format.
  Id3v2Settings.defaultVersion = 4
  const file = File.createFromPath(path)
  try {
    writeCommon(file, rights)
    const xiph = file.getTag(TagTypes.Xiph, false) as XiphComment | undefined
    if (xiph) writeXiph(xiph, rights)
    const id3 = file.getTag(TagTypes.Id3v2, ending === 'mp3') as Id3v2Tag | undefined
    if (id3) writeId3(id3, rights)
    file.save()
  } finally {
    file.dispose()
  }
  return true
}

function tagWav(path: string, rights: FileRights): boolean {
  if (fs.statSync(path).size > MAX_WAV_BYTES) return false
  const tagged = withWavRights(fs.readFileSync(path), {
    ...rights,
    copyright: copyrightOf(rights),
    comment: commentOf(rights),
  })
  fs.writeFileSync(path, tagged)
  return true
}

function writeCommon(file: TaggedFile, rights: FileRights): void {
  const { tag } = file
  tag.title = rights.title
  if (rights.maker) tag.performers = [rights.maker]
  tag.copyright = copyrightOf(rights)
  tag.comment = commentOf(rights)
  tag.publisher = rights.source
}

function writeXiph(xiph: XiphComment, rights: FileRights): void {
  xiph.setFieldAsStrings('LICENSE', rights.licenceUrl ?? rights.licenceTitle)
  xiph.setFieldAsStrings('ORGANIZATION', rights.source)
  xiph.setFieldAsStrings('ACQUISITION', rights.acquisitionId)
  if (rights.creditLine) xiph.setFieldAsStrings('CREDIT', rights.creditLine)
}

function writeId3(id3: Id3v2Tag, rights: FileRights): void {
  const texts = [
    ['License', rights.licenceUrl ?? rights.licenceTitle],
    ['Source', rights.source],
    ['Acquisition', rights.acquisitionId],
    ['Credit', rights.creditLine ?? ''],
  ] as const
  for (const [description, value] of texts) {
    if (value === '') continue
    const frame = Id3v2UserTextInformationFrame.fromDescription(description)
    frame.text = [value]
    id3.addFrame(frame)
  }
}

function copyrightOf({ maker, source, licenceTitle, licenceUrl }: FileRights): string {
  return [`© ${maker || source}`, licenceTitle, licenceUrl].filter(Boolean).join(', ')
}

function commentOf({ creditLine, source, acquisitionId }: FileRights): string {
  return [
    creditLine ? messages.creditIs(creditLine) : messages.noCreditIsOwed,
    messages.from(source),
    messages.acquisition(acquisitionId),
  ].join(' ')
}
