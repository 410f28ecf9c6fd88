import type { Db } from '../database/open'

/** A text that a source calls by the name of a licence that it is not. */
export interface MisfitLabel {
  readonly sourceId: string
  readonly sourceName: string
  readonly title: string
}

/** Labels that do not fit their texts, of sounds that are in a catalogue today. */
export function listMisfitLabels(db: Db): Promise<MisfitLabel[]> {
  return db
    .selectFrom('terms')
    .innerJoin('sources', 'sources.id', 'terms.source_id')
    .select(['sources.id as sourceId', 'sources.name as sourceName', 'terms.title'])
    .distinct()
    .where('terms.misfit_label', 'is not', null)
    .where((eb) =>
      eb.exists(
        eb
          .selectFrom('sounds')
          .select('sounds.id')
          .whereRef('sounds.terms_id', '=', 'terms.id')
          .where('withdrawn_at', 'is', null),
      ),
    )
    .orderBy('terms.title')
    .execute()
}
