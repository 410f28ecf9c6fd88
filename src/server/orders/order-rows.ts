import type { Selectable, Updateable } from 'kysely'
import { orders as messages } from '../../messages/server/orders'
import type { Db } from '../database/db'
import type { Schema } from '../database/schema'
import { notFound } from '../domain-error'

export type OrderRow = Selectable<Schema['orders']>

/** States of an order that is not over: nothing is bought a second time beside it. */
export const UNDER_WAY = ['open', 'asked', 'paid'] as const

/** @throws {DomainError} not-found. */
export async function getOrderRow(db: Db, id: number): Promise<OrderRow> {
  const row = await db.selectFrom('orders').selectAll().where('id', '=', id).executeTakeFirst()
  if (!row) throw notFound(messages.thisOrder)
  return row
}

export async function setOrder(db: Db, id: number, values: Updateable<Schema['orders']>): Promise<void> {
  await db.updateTable('orders').set(values).where('id', '=', id).execute()
}
