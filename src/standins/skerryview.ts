import { createHmac } from 'node:crypto'
import {
  type LibraryFiles,
  type LibrarySound,
  libraryOf,
  type Standin,
  type StandinAnswer,
  serveStandin,
  soundFile,
  wellBehaved,
} from './serve'

const PAGE_SIZE = 30
const KEY = 'sv-small-hours'
const SECRET = 'skerry-links'
const LINK_S = 90

/** Two variants that differ in the credit; silent on broadcast, cinema, games and sound alone. */
function terms(variant: string, edition: number): string {
  const credit =
    variant === 'named'
      ? 'Name the sound in the description of the video, in this form: "Sound: TITLE by MAKER, Skerryview Free Collection".'
      : 'You need not name the sound.'
  const earning =
    edition < 2
      ? 'The video may earn from adverts, sponsors and members.'
      : 'A video that earns needs a partner contract with Skerryview.'
  return `Skerryview Free Collection, terms of ${edition < 2 ? 'March' : 'October'} (no. ${edition})

The sounds of the collection may be used in videos that are published online, on Skerryview and elsewhere, in every country,
without charge. They may be cut and mixed. ${earning} Your video remains yours, whatever licence you give it.

${credit}

The sounds may not be offered as sounds, alone or in a pack. What has been published under these terms may stay published.
Paid advertising is not covered.`
}

/**
 * Stand-in for the free collection of a video host: key in the query, tokens for pages, links that expire, lengths as text.
 * Longer than most: one route after the other, to be read beside its description.
 */
export function serveSkerryview(files: LibraryFiles, port: number, nowMs: () => number = Date.now): Promise<Standin> {
  const all = libraryOf(files)
  const control = wellBehaved(1)
  const sign = (text: string): string => createHmac('sha256', SECRET).update(text).digest('base64url').slice(0, 24)
  const link = (id: string, part: string): string => {
    const exp = Math.ceil(nowMs() / 1000) + LINK_S
    return `/media/${encodeURIComponent(id)}/${part}?exp=${exp}&sig=${sign(`${id}/${part}/${exp}`)}`
  }
  const offered = (): LibrarySound[] => all.filter(({ id }) => !control.withdrawn.includes(id))

  return serveStandin(port, control, ({ url }): StandinAnswer => {
    const [, kind, id = '', part = ''] = url.pathname.split('/').map(decodeURIComponent)
    if (kind === 'media') return media(id, part, url.searchParams)
    if (url.searchParams.get('key') !== KEY) return { status: 403, json: { reason: 'keyInvalid' } }
    if (kind === 'collection' && id === '') return collection(url.searchParams.get('pageToken') ?? '')
    if (kind === 'collection') return one(id)
    if (kind === 'terms' && (id === 'open' || id === 'named'))
      return {
        json: {
          variant: id,
          updated: control.edition < 2 ? '2026-03-02' : '2026-10-19',
          heading: id === 'named' ? 'Free Collection, with a credit' : 'Free Collection',
          content: terms(id, control.edition),
        },
      }
    return { status: 404, json: { reason: 'notFound' } }
  })

  function collection(token: string): StandinAnswer {
    const sounds = offered()
    const start = token === '' ? 0 : Number(Buffer.from(token, 'base64url').toString()) || 0
    const next = start + PAGE_SIZE
    return {
      json: {
        tracks: sounds.slice(start, next).map(track),
        ...(next < sounds.length ? { nextPageToken: Buffer.from(String(next)).toString('base64url') } : {}),
      },
    }
  }

  function one(id: string): StandinAnswer {
    const sound = offered().find((candidate) => candidate.id === id)
    if (!sound) return { status: 404, json: { reason: 'notFound' } }
    return {
      json: {
        ...track(sound),
        audioUrl: link(id, 'preview'),
        fullUrl: link(id, 'full'),
        fileName: `${sound.title}.${sound.format}`,
      },
    }
  }

  function media(id: string, part: string, query: URLSearchParams): StandinAnswer {
    const exp = query.get('exp') ?? ''
    const sound = offered().find((candidate) => candidate.id === id)
    if (!sound) return { status: 404, json: { reason: 'notFound' } }
    if (query.get('sig') !== sign(`${id}/${part}/${exp}`) || Number(exp) * 1000 < nowMs())
      return { status: 403, json: { reason: 'linkExpired' } }
    return soundFile(files, sound, part === 'full' ? 'original' : 'preview')
  }
}

function track(sound: LibrarySound) {
  return {
    trackId: sound.id,
    displayName: sound.title,
    uploader: sound.maker,
    seconds: sound.durationS.toFixed(2),
    genre: sound.category.toLowerCase(),
    keywords: sound.tags.split(' ').filter(Boolean),
    type: sound.kind ?? 'effect',
    attributionRequired: sound.licence === 'named',
    ...(sound.taken === undefined ? {} : { timesUsed: String(sound.taken) }),
    ...(sound.tempoBpm ? { tempo: `${sound.tempoBpm} bpm`, mood: sound.mood, hasVocals: sound.vocals } : {}),
  }
}
