import { type Kysely, sql } from 'kysely'

const STATEMENTS = [
  // What an order came to, and what is still to come. States: open (not bought), asked (sent, not answered), paid, done.
  `ALTER TABLE orders ADD COLUMN paid_minor INTEGER`,
  `ALTER TABLE orders ADD COLUMN paid_currency TEXT`,
  `ALTER TABLE orders ADD COLUMN paid_at TEXT`,
  // Charged otherwise than was agreed: it waits for the creator.
  `ALTER TABLE orders ADD COLUMN is_disputed INTEGER NOT NULL DEFAULT 0`,
  `ALTER TABLE orders ADD COLUMN terms_id INTEGER REFERENCES terms(id)`,
  `ALTER TABLE orders ADD COLUMN grant_id INTEGER REFERENCES grants(id)`,
  `ALTER TABLE orders ADD COLUMN receipt_sha256 TEXT`,
  // The file as it came, where it could not be used.
  `ALTER TABLE orders ADD COLUMN served_sha256 TEXT`,
  `ALTER TABLE orders ADD COLUMN is_receipt_missing INTEGER NOT NULL DEFAULT 0`,
  `ALTER TABLE orders ADD COLUMN message TEXT NOT NULL DEFAULT ''`,
  `ALTER TABLE orders ADD COLUMN tries INTEGER NOT NULL DEFAULT 0`,
  `ALTER TABLE orders ADD COLUMN next_try_at TEXT`,
  `DROP INDEX one_open_order`,
  `CREATE UNIQUE INDEX one_open_order ON orders (sound_id, tier, ifnull(video_id, 0)) WHERE state IN ('open', 'asked', 'paid')`,
  `UPDATE orders SET
    grant_id = (SELECT max(id) FROM grants WHERE grants.order_ref = orders.order_ref AND grants.sound_id = orders.sound_id),
    paid_at = (SELECT max(acquired_at) FROM grants WHERE grants.order_ref = orders.order_ref AND grants.sound_id = orders.sound_id),
    paid_minor = (SELECT max(paid_minor) FROM grants WHERE grants.order_ref = orders.order_ref AND grants.sound_id = orders.sound_id),
    paid_currency = (SELECT max(paid_currency) FROM grants WHERE grants.order_ref = orders.order_ref AND grants.sound_id = orders.sound_id)
    WHERE state = 'done'`,
  `UPDATE orders SET receipt_sha256 = (SELECT max(sha256) FROM evidence
    WHERE evidence.grant_id = orders.grant_id AND evidence.file_name LIKE 'receipt %') WHERE state = 'done'`,
  // With which rights a copy was tagged: a lost copy is made again as it was.
  `ALTER TABLE grants ADD COLUMN rights_json TEXT`,
  // A source that was removed can be brought back.
  `ALTER TABLE sources ADD COLUMN removed_at TEXT`,
  `CREATE TABLE basket (
    id INTEGER PRIMARY KEY, sound_id INTEGER NOT NULL REFERENCES sounds(id) ON DELETE CASCADE, tier TEXT NOT NULL,
    price_minor INTEGER NOT NULL, currency TEXT NOT NULL, video_id INTEGER REFERENCES videos(id) ON DELETE SET NULL,
    added_at TEXT NOT NULL
  ) STRICT`,
  `CREATE UNIQUE INDEX basket_once ON basket (sound_id, tier, ifnull(video_id, 0))`,
]

/** Orders that remember what was paid and what is still to come, and a basket that lasts. */
export async function moneyRecords(db: Kysely<unknown>): Promise<void> {
  for (const statement of STATEMENTS) await sql.raw(statement).execute(db)
}
