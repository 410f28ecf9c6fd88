import { clauseOf } from '../rights'
import { clearance as messages } from '../wording/clearance'
import type { Finding, PapersOnFile } from './finding'
import type { SoundOnFile } from './sound-on-file'

/** Licences of several sounds that one video cannot keep together. */
export interface LicenceConflict {
  readonly soundIds: readonly number[]
  readonly sentence: string
}

/** What conflicts are found from; the licence of the video is null where all rights in it are kept. */
interface ConflictSources<Licence extends string | null> {
  readonly papers: readonly PapersOnFile[]
  readonly sounds: ReadonlyMap<number, SoundOnFile>
  readonly videoLicence: Licence
}

/**
 * Pairs of heard sounds whose licences each want the whole video under themselves, and share-alike licences in a video whose rights are
 * all kept. Each sound that is concerned is barred by its own papers too; this says why no choice of the video's licence settles all.
 */
export function licenceConflicts(
  findings: readonly Finding[],
  { papers, sounds, videoLicence }: ConflictSources<string | null>,
): LicenceConflict[] {
  const inOrder = [...findings].sort((a, b) => a.soundId - b.soundId)
  const wanted = inOrder.flatMap(({ soundId }) => {
    const own = papers.filter((paper) => paper.soundId === soundId)
    const bound = own.filter((paper) => clauseOf(paper.papers.terms, 'share-alike').answer === 'duty')
    // A sound with other papers beside them is not bound.
    return own.length > 0 && bound.length === own.length
      ? [{ soundId, title: sounds.get(soundId)?.title ?? '', terms: (bound[0] as PapersOnFile).papers.terms }]
      : []
  })
  const conflicts: LicenceConflict[] = []
  wanted.forEach((one, at) => {
    for (const other of wanted.slice(at + 1))
      if (one.terms.spdxId !== other.terms.spdxId || one.terms.spdxId === null)
        conflicts.push({
          soundIds: [one.soundId, other.soundId],
          sentence: messages.wantsWholeVideoUnderAnd(one.title, one.terms.title, other.title, other.terms.title),
        })
  })
  if (videoLicence === null && wanted.length > 0)
    conflicts.push({
      soundIds: wanted.map(({ soundId }) => soundId),
      sentence: messages.wholeVideoUnderSameLicence(
        wanted.map(({ title, terms }) => `“${title}” (${terms.title})`).join(', '),
        wanted.length,
      ),
    })
  if (videoLicence !== null) conflicts.push(...heldBack(inOrder, { papers, sounds, videoLicence }))
  return conflicts
}

/** Sounds that may not be passed on to everyone, or not for money, in a video under a licence that does just that. */
function heldBack(
  findings: readonly Finding[],
  { papers, sounds, videoLicence }: ConflictSources<string>,
): LicenceConflict[] {
  const isCommercial = !/-NC\b/.test(videoLicence)
  return findings.flatMap(({ soundId, ground }) => {
    const paper = papers.find(({ papersId }) => papersId === ground?.papersId)
    if (!paper) return []
    const { terms } = paper.papers
    const lacks = [
      ...(clauseOf(terms, 'standalone').answer === 'yes' ? [] : [messages.passingTheSoundOn]),
      ...(isCommercial && clauseOf(terms, 'earning').answer !== 'yes' ? [messages.commercialUse] : []),
    ]
    if (lacks.length === 0) return []
    const title = sounds.get(soundId)?.title ?? ''
    return [
      {
        soundIds: [soundId],
        sentence: messages.videoPublishedUnderWhichLets(
          videoLicence,
          isCommercial,
          terms.title,
          title,
          lacks.join(' and '),
        ),
      },
    ]
  })
}
