import {
  type Connection,
  cleanHealth,
  connectionOf,
  type HealthRow,
  type MarketConnection,
  type SupplierConnection,
} from './connection-rows';
import type { SampanDatabase } from './database';

/** All connections as they hold. */
export async function allConnections(db: SampanDatabase): Promise<Connection[]> {
  const [rows, said] = await db.transaction('r', [db.connections, db.stated], () =>
    Promise.all([db.connections.toArray(), db.stated.toArray()]),
  );
  const by = new Map(said.map((s) => [s.id, s]));
  return rows.map((row) => connectionOf(row, by.get(row.id)));
}

/** A connection as it holds; undefined where there is none. */
export async function connectionById(db: SampanDatabase, id: string): Promise<Connection | undefined> {
  const [row, said] = await db.transaction('r', [db.connections, db.stated], () =>
    Promise.all([db.connections.get(id), db.stated.get(id)]),
  );
  return row && connectionOf(row, said);
}

export async function marketById(db: SampanDatabase, id: string): Promise<MarketConnection | undefined> {
  const c = await connectionById(db, id);
  return c?.role === 'marketplace' ? c : undefined;
}

export async function supplierById(db: SampanDatabase, id: string): Promise<SupplierConnection | undefined> {
  const c = await connectionById(db, id);
  return c?.role === 'supplier' ? c : undefined;
}

/** How it goes with a connection. */
export const healthOf = async (db: SampanDatabase, id: string): Promise<HealthRow> =>
  (await db.health.get(id)) ?? cleanHealth(id);

/** How it goes with all connections that something has happened to, by id. */
export const allHealth = async (db: SampanDatabase): Promise<Map<string, HealthRow>> =>
  new Map((await db.health.toArray()).map((h) => [h.id, h]));
