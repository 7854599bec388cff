import { isNothing } from '../../core/catalogue';
import { dayOf } from '../../core/units';
import type { DoubtRow, Job, ReadingRow, RefusedRow } from '../../store';
import type { Work } from '../context/work';
import { jobsById, listJob } from '../schedule/job';
import { lastRefused, nextToRead } from './dropped-lists';

type Stored = Pick<Work, 'db'>;

/** How a supplier's price lists stand: what is read, what was read last and what of it was refused. */
export interface ReadingsOf {
  readonly jobs: readonly Job[];
  /** Newest first. */
  readonly readings: readonly ReadingRow[];
  readonly refused: RefusedRow[];
  readonly waits: boolean;
  /** As the newest list has it: rows to mend are saved as the list came, so that amounts with commas stay whole. */
  readonly delimiter: string | undefined;
}

const SHOWN = 5;

export async function readingsOf({ db }: Stored, supplier: string): Promise<ReadingsOf> {
  const readings = await db.readings
    .where('[supplier+at]')
    .between([supplier, 0], [supplier, Number.MAX_SAFE_INTEGER])
    .reverse()
    .limit(SHOWN)
    .toArray();
  const matches = await db.matches.where('supplier').equals(supplier).sortBy('at');
  const format = matches.at(-1)?.match.format;
  return {
    jobs: await jobsById({ db }, [listJob(supplier), `${supplier}:catalogue`]),
    readings,
    refused: await lastRefused(db, supplier),
    waits: (await nextToRead(db, supplier)) !== undefined,
    delimiter: format && (format.kind === 'csv' ? format.delimiter : ','),
  };
}

/** The sum of a supplier’s readings of one day. */
export interface ReadDay {
  readonly day: string;
  readonly costUp: number;
  readonly costDown: number;
  readonly stock: number;
  readonly fresh: number;
  readonly gone: number;
}

/** Day by day what readings brought, the first first; days without a change are left out. */
export async function readDays({ db }: Stored, supplier: string, zone: string): Promise<ReadDay[]> {
  const days = new Map<string, { -readonly [K in keyof ReadDay]: ReadDay[K] }>();
  await db.readings
    .where('[supplier+at]')
    .between([supplier, 0], [supplier, Number.MAX_SAFE_INTEGER])
    .each(({ at, tally }) => {
      if (isNothing(tally)) return;
      const day = dayOf(at, zone);
      const sum = days.get(day) ?? { day, costUp: 0, costDown: 0, stock: 0, fresh: 0, gone: 0 };
      days.set(day, sum);
      for (const name of ['costUp', 'costDown', 'stock', 'fresh', 'gone'] as const) sum[name] += tally[name];
    });
  return [...days.values()];
}

/** The items that a supplier’s last list left out, where a person must say whether they are gone. */
export const doubtAbout = ({ db }: Stored, supplier: string): Promise<DoubtRow | undefined> =>
  db.doubts.get(supplier);

/** Suppliers for whose lists columns were matched before. */
export const matchedSuppliers = async ({ db }: Stored): Promise<string[]> =>
  (await db.matches.orderBy('supplier').uniqueKeys()) as string[];
