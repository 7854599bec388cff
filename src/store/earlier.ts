import type { SampanDatabase } from './database';
import type { EarlierRow, EarlierTable } from './rows';

/** Inputs of prices that are noted in the record of earlier values, besides cost and stock, which have their history. */
const NOTED: Readonly<Partial<Record<EarlierTable, readonly string[]>>> = {
  listings: ['market'],
  connections: ['site', 'agreed', 'fees', 'optedIn', 'buyers', 'costs', 'shipping'],
  stated: ['shipping'],
};

/** Fields of a table of which earlier values are kept. */
export const notedFields = (table: EarlierTable): readonly string[] => NOTED[table] ?? [];

/**
 * Notes what some fields were before a change, one record for each field. Runs inside the caller's transaction.
 * @param was the rows before, by id
 */
export async function noteEarlier(
  db: SampanDatabase,
  table: EarlierTable,
  sets: readonly { readonly id: string; readonly set: Readonly<Record<string, unknown>> }[],
  was: ReadonlyMap<string, Readonly<Record<string, unknown>>>,
  at: number,
): Promise<void> {
  for (const field of notedFields(table)) {
    const own = sets.filter(
      (r) =>
        field in r.set &&
        was.has(r.id) &&
        JSON.stringify(was.get(r.id)![field]) !== JSON.stringify(r.set[field]),
    );
    if (own.length)
      await db.earlier.add({
        ...{ at, table, field },
        ids: own.map((r) => r.id),
        before: own.map((r) => was.get(r.id)![field]),
      } as Omit<EarlierRow, 'seq'> as EarlierRow);
  }
}

/** The values of fields at any recorded time. */
export class EarlierValues {
  private readonly by = new Map<string, { readonly until: number; readonly value: unknown }[]>();
  /** When something changed, by table. */
  readonly times = new Map<EarlierTable, { readonly at: number; readonly id: string }[]>();

  /** @param rows in the order in which they were written */
  constructor(rows: readonly EarlierRow[]) {
    for (const { at, table, field, ids, before } of rows)
      for (const [k, id] of ids.entries()) {
        const key = `${table}:${field}:${id}`;
        const known = this.by.get(key);
        const entry = { until: at, value: before[k] };
        if (known) known.push(entry);
        else this.by.set(key, [entry]);
        const times = this.times.get(table);
        if (times) times.push({ at, id });
        else this.times.set(table, [{ at, id }]);
      }
  }

  /** A row as it was at a time; the same object where nothing on record differs. */
  rowAt<R extends { readonly id: string }>(table: EarlierTable, row: R, at: number): R {
    const set: Record<string, unknown> = {};
    let differs = false;
    for (const field of notedFields(table)) {
      const was = this.by.get(`${table}:${field}:${row.id}`)?.find(({ until }) => until > at);
      if (!was) continue;
      set[field] = was.value;
      differs = true;
    }
    return differs ? { ...row, ...set } : row;
  }
}

/** The recorded inputs of prices since a time. */
export const earlierSince = async (db: SampanDatabase, from: number): Promise<EarlierValues> =>
  new EarlierValues(await db.earlier.where('at').aboveOrEqual(from).sortBy('seq'));

/** From when on they are on record; null for as long as the shop is there. */
export const earlierBegins = async (db: SampanDatabase): Promise<number | null> =>
  ((await db.notes.get('earlier-begins'))?.value as number | undefined) ?? null;
