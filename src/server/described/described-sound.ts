import type { LibraryDescription } from '../../contract/library-description'
import { webAddress } from '../../core/visible-text'
import { money } from '../money'
import type { CatalogueSound, Tier } from '../ports/connector'
import type { Picker } from './pick'

const KINDS = ['effect', 'ambience', 'music'] as const
const MAX_TAGS = 60

/** One entry of a library's catalogue in our words and units. @throws {SourceError} where it is not as described. */
export function describedSound(sound: LibraryDescription['sound'], row: unknown, pick: Picker): CatalogueSound {
  const externalId = pick.required(sound.id, row, 'id', 200)
  const kind = pick.text(sound.kind, row, 'kind', 20)
  const tiers = tiersOf(sound.tiers, row, pick)
  const [cheapest] = tiers
  const cost = cheapest ? `from ${money(cheapest.priceMinor, cheapest.currency)}` : (sound.cost ?? 'free')
  return {
    externalId,
    title: pick.text(sound.title, row, 'title', 500).trim() || 'Untitled sound',
    maker: pick.text(sound.maker, row, 'maker', 200),
    description: pick.text(sound.description, row, 'description', 5000),
    tags: pick.texts(sound.tags, row, 'tags').slice(0, MAX_TAGS),
    category: pick.text(sound.category, row, 'category', 60),
    durationS: pick.lengthS(sound.length, row),
    formats: pick.texts(sound.formats, row, 'formats').map((ending) => ending.replace(/^\./, '').toLowerCase()),
    cost,
    pageUrl: webAddress(pick.text(sound.pageUrl, row, 'pageUrl', 2000) || null),
    previewRef: sound.preview === undefined ? externalId : pick.required(sound.preview, row, 'preview', 2000),
    termsKey: cheapest?.termsKey ?? pick.required(sound.terms, row, 'terms', 200),
    tiers,
    kind: KINDS.find((one) => one === kind) ?? 'effect',
    tempoBpm: pick.number(sound.tempo, row, 'tempo'),
    mood: pick.text(sound.mood, row, 'mood', 60) || null,
    vocals: pick.truth(sound.vocals, row, 'vocals'),
    popularity: pick.number(sound.popularity, row, 'popularity'),
  }
}

/** The lowest first; a tier without a price is not offered for the sound. */
function tiersOf(tiers: LibraryDescription['sound']['tiers'], row: unknown, pick: Picker): Tier[] {
  return tiers
    .flatMap(({ key, title, price, currency, terms }): Tier[] => {
      const priceMinor = pick.number(price, row, `price of ${key}`)
      if (priceMinor === null) return []
      return [{ key, title, priceMinor, currency: pick.required(currency, row, 'currency', 3), termsKey: terms }]
    })
    .toSorted((a, b) => a.priceMinor - b.priceMinor)
}
