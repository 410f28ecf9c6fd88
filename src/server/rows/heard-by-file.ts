import { sql } from 'kysely'

/** Of an analysis: whether it is of the file as it was served, and not of a preview. */
export const HEARD_BY_FILE = sql<boolean>`EXISTS (
  SELECT 1 FROM grants WHERE grants.sound_id = analyses.sound_id AND grants.served_sha256 = analyses.audio_sha256
)`
