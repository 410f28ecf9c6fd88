import type { DescribedValue, LibraryDescription } from '../../contract/library-description'
import { CHOICE_ROLES } from '../../core/sound-choices'
import { webAddress } from '../../core/visible-text'
import { described as messages } from '../../messages/server/described'
import { money } from '../money'
import { type CatalogueSound, type ListedChoice, type Tier, withChoices } from '../ports/connector'
import type { Picker } from './pick'

const KINDS = ['effect', 'ambience', 'music'] as const
const MAX_TAGS = 60
const MAX_CHOICES = 100

/** One entry with its stems, parts and versions, each a sound of its own. @throws {SourceError} where it is not as described. */
export function describedSounds(sound: LibraryDescription['sound'], row: unknown, pick: Picker): CatalogueSound[] {
  const { choices } = sound
  const entry = describedSound(sound, row, pick)
  if (!choices || pick.part(choices.list, row) === null) return [entry]
  const listed = pick
    .list(choices.list, row, 'choices')
    .slice(0, MAX_CHOICES)
    .flatMap((one): ListedChoice[] => {
      const role = CHOICE_ROLES.find((known) => known === pick.text(choices.role, one, 'role of a choice', 20))
      // What is none of the three cannot be told apart from the whole.
      if (!role) return []
      const externalId = pick.required(choices.id, one, 'id of a choice', 200)
      const { preview } = choices
      return [
        {
          role,
          externalId,
          name: pick.required(choices.name, one, messages.nameOfAChoice, 120).trim(),
          durationS: pick.lengthS(choices.length, one),
          previewRef: preview === undefined ? externalId : pick.required(preview, one, messages.previewOfAChoice, 2000),
          ...(choices.formats === undefined ? {} : { formats: formatsOf(choices.formats, one, pick) }),
        },
      ]
    })
  return withChoices(entry, listed)
}

function formatsOf(value: DescribedValue | undefined, row: unknown, pick: Picker): string[] {
  return pick.texts(value, row, 'formats').map((ending) => ending.replace(/^\./, '').toLowerCase())
}

/** One entry of a library's catalogue in our words and units. @throws {SourceError} where it is not as described. */
function describedSound(sound: LibraryDescription['sound'], row: unknown, pick: Picker): CatalogueSound {
  const externalId = pick.required(sound.id, row, 'id', 200)
  const kind = pick.text(sound.kind, row, 'kind', 20)
  const tiers = tiersOf(sound.tiers, row, pick)
  const [cheapest] = tiers
  const cost = cheapest ? `from ${money(cheapest.priceMinor, cheapest.currency)}` : (sound.cost ?? 'free')
  return {
    externalId,
    title: pick.text(sound.title, row, 'title', 500).trim() || messages.untitledSound,
    maker: pick.text(sound.maker, row, 'maker', 200),
    description: pick.text(sound.description, row, 'description', 5000),
    tags: pick.texts(sound.tags, row, 'tags').slice(0, MAX_TAGS),
    category: pick.text(sound.category, row, 'category', 60),
    durationS: pick.lengthS(sound.length, row),
    formats: formatsOf(sound.formats, row, pick),
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
      const priceMinor = pick.number(price, row, messages.priceOf(key))
      if (priceMinor === null) return []
      return [{ key, title, priceMinor, currency: pick.required(currency, row, 'currency', 3), termsKey: terms }]
    })
    .toSorted((a, b) => a.priceMinor - b.priceMinor)
}
