import { askAddress } from '../../connect/address';
import { type ListSource, openList, readPart, type Sniffed, sniff } from '../../connect/lists';
import { hashOf } from '../../core/catalogue';
import {
  cellInWords,
  type Format,
  guessMatch,
  type ListKind,
  type Match,
  matchProblems,
  REASON_COLUMN,
  signatureOf,
} from '../../core/lists';
import type { Ppm } from '../../core/money';
import {
  type Connection,
  connectionById,
  fileOf,
  type Job,
  type ListFile,
  type RefusedRow,
  type SampanDatabase,
  type SupplierConnection,
  toStore,
} from '../../store';
import type { Work } from '../context/work';
import { isDue, jobId, listJob, NEVER, newJob } from '../schedule/job';
import { dropStage } from './ending';

/** The first rows of a list as they would be read, for the picture on which the match is made. */
export interface Sample {
  readonly header: readonly string[];
  readonly rows: readonly (readonly string[])[];
  readonly lines: readonly number[];
  readonly match: Match;
  readonly problems: readonly string[];
  /** The value of each cell; null where its column is not used. */
  readonly reads: readonly (readonly ({ ok: boolean; says: string } | null)[])[];
}

export interface Inspected {
  readonly file: string;
  readonly name: string;
  readonly size: number;
  readonly sniffed: Pick<Sniffed, 'format' | 'choices' | 'notes'>;
  readonly sample: Sample;
  /** This supplier's list had the same columns before: it can be read as then. */
  readonly remembered: boolean;
  /** It was read before, with other columns. */
  readonly changed: boolean;
}

const SAMPLED = 100;
const SHOWN = 10;

async function firstRows(
  blob: Blob,
  format: Format,
  decimal: '.' | ',',
): Promise<
  { ok: true; source: ListSource; rows: string[][]; lines: number[] } | { ok: false; reason: string }
> {
  const opened = await openList(blob, format, decimal);
  if (!opened.ok) return opened;
  const source = opened.value;
  const broken: string[] = [];
  for (let place: string | null = null; ; ) {
    const batch = await source.next(place);
    broken.push(...batch.broken.map((b) => `line ${b.line}: ${b.reason}`));
    if (batch.lines.length) {
      const some = Int32Array.from({ length: Math.min(SAMPLED, batch.lines.length) }, (_, k) => k);
      const lines = [...batch.lines.subarray(0, some.length)];
      const rows = [...readPart(batch.part(some))].flat().map((r) => [...r]);
      return { ok: true, source, rows, lines };
    }
    place = batch.next;
    if (place === null)
      return broken.length
        ? { ok: false, reason: `No row of it can be read: ${broken[0]}.` }
        : { ok: true, source, rows: [], lines: [] };
  }
}

/**
 * The list of a supplier that is read next: the one that is being read, else the one that was dropped first.
 */
export async function nextToRead(db: SampanDatabase, supplier: string): Promise<ListFile | undefined> {
  const files = (await db.files.where('supplier').equals(supplier).toArray()).filter((f) => f.match !== null);
  return files.sort((a, b) => a.at - b.at || (a.id < b.id ? -1 : 1))[0];
}

/** Characters of a cell that are shown: a text of many megabytes would hold the page up. */
const SHOWN_CELL = 400;
const inShort = (cell: string) => (cell.length > SHOWN_CELL ? `${cell.slice(0, SHOWN_CELL)}…` : cell);

export function sampleOf(
  match: Match,
  rows: readonly (readonly string[])[],
  lines: readonly number[],
): Sample {
  const shown = rows.slice(0, SHOWN).map((cells) => cells.map(inShort));
  return {
    header: match.header,
    rows: shown,
    lines: lines.slice(0, SHOWN),
    match,
    problems: matchProblems(match),
    reads: shown.map((cells) => match.header.map((_, i) => cellInWords(match, i, cells[i] ?? ''))),
  };
}

/** Columns of the same name get a number, so that each can be matched by itself. */
export const toldApart = (header: readonly string[]): string[] =>
  header.map((h, i) =>
    h && header.indexOf(h) !== i ? `${h} (${header.slice(0, i + 1).filter((o) => o === h).length})` : h,
  );

/** Takes files away with their bytes. */
export async function dropFiles(
  db: SampanDatabase,
  files: readonly { readonly id: string }[],
): Promise<void> {
  const ids = files.map((f) => f.id);
  await Promise.all([db.files.bulkDelete(ids), db.bytes.bulkDelete(ids)]);
}

/**
 * Looks at a dropped or fetched file and says how it would be read; keeps it until it is read or taken away.
 */
export async function inspect(
  work: Work,
  supplier: { readonly id: string; readonly currency: string },
  file: Blob,
  name: string,
  kind?: ListKind,
): Promise<{ ok: true; value: Inspected } | { ok: false; reason: string }> {
  const { db } = work;
  const found = await sniff(file, name);
  if (!found.ok) return found;
  const { format, blob, choices, notes } = found.value;
  const first = await firstRows(blob, format, '.');
  if (!first.ok) return first;
  if (!first.rows.length) return { ok: false, reason: `“${name}” has a header row and no data rows.` };
  const doubled = first.source.header.filter((h, i, all) => h && all.indexOf(h) !== i);
  const header = toldApart(first.source.header);
  const guess = guessMatch(format, header, first.rows, supplier.currency, kind);
  const own = await db.matches.where('supplier').equals(supplier.id).toArray();
  const signature = signatureOf(format.kind, header);
  const partial = header.includes(REASON_COLUMN);
  // Rows to mend are written as CSV, whatever the list they come from is.
  const ofColumns = (s: string) => s.slice(s.indexOf(':'));
  const known =
    own.find((m) => m.signature === signature) ??
    (partial ? own.find((m) => ofColumns(m.signature) === ofColumns(signature)) : undefined);
  const match: Match = known
    ? {
        ...known.match,
        format,
        header,
        fields: refield(known.match, header),
        whole: known.match.whole && !partial,
      }
    : { ...guess, whole: guess.whole && !(await hasService(db, supplier.id)) };
  const id = work.newId();
  const stored = await toStore(db, blob);
  const row: ListFile = {
    id,
    supplier: supplier.id,
    name: name.slice(0, 200),
    size: file.size,
    at: work.clock(),
    match: null,
  };
  await db.transaction('rw', [db.files, db.bytes], async () => {
    // One list waits for its match at a time; one that is being read stays.
    const waiting = (await db.files.where('supplier').equals(supplier.id).toArray()).filter(
      (f) => f.match === null,
    );
    await dropFiles(db, waiting);
    await db.files.put(row);
    await db.bytes.put({ id, file: stored });
  });
  const told = [
    ...notes,
    ...(doubled.length ? [`Two columns are named “${doubled[0]}”. They are told apart by a number.`] : []),
  ];
  return {
    ok: true,
    value: {
      file: id,
      name: row.name,
      size: file.size,
      sniffed: { format, choices, notes: told },
      sample: sampleOf(match, first.rows, first.lines),
      remembered: known !== undefined,
      changed: known === undefined && own.length > 0,
    },
  };
}

/**
 * Whether a supplier's service tells its whole catalogue: a file besides it is no reason to take what it does
 * not name for gone.
 */
async function hasService(db: SampanDatabase, supplier: string): Promise<boolean> {
  const connection = await connectionById(db, supplier);
  return connection?.role === 'supplier' && connection.list === null;
}

/** Columns that only a file of refused rows has are not used. */
const refield = (match: Match, header: readonly string[]) =>
  header.map((h) => match.fields[match.header.indexOf(h)] ?? null);

/** The first rows again, after the seller chose another way to open the file. */
export async function resample(
  work: Work,
  file: string,
  match: Match,
  reguess: boolean,
): Promise<{ ok: true; sample: Sample } | { ok: false; reason: string }> {
  const row = await work.db.bytes.get(file);
  if (!row) return { ok: false, reason: 'This file is no longer stored. Drop it again.' };
  const first = await firstRows(fileOf(row.file), match.format, match.decimal);
  if (!first.ok) return first;
  const header = toldApart(first.source.header);
  const changed = header.length !== match.header.length || header.some((h, i) => h !== match.header[i]);
  const fitting =
    changed || reguess
      ? { ...guessMatch(match.format, header, first.rows, match.currency, match.kind), format: match.format }
      : match;
  return { ok: true, sample: sampleOf(fitting, first.rows, first.lines) };
}

/** Remembers a match for a supplier and has the file read by the runner. */
export async function startReading(
  work: Work,
  supplier: string,
  file: string,
  match: Match,
): Promise<{ ok: true } | { ok: false; reason: string }> {
  const { db } = work;
  const problems = matchProblems(match);
  if (problems.length) return { ok: false, reason: problems.join(' ') };
  const at = work.clock();
  const before = await db.jobs.get(listJob(supplier));
  // A list that is being read, or is about to be, is read to its end first; one that was stopped gives way.
  const goesOn = before !== undefined && (before.running !== null || isDue(before, at));
  const reading = goesOn ? await nextToRead(db, supplier) : undefined;
  if (!reading && (await db.stages.get(supplier))) await dropStage(work, supplier);
  const service = await hasService(db, supplier);
  return db.transaction('rw', [db.files, db.bytes, db.matches, db.jobs], async () => {
    const row = await db.files.get(file);
    if (!row) return { ok: false as const, reason: 'This file is no longer stored. Drop it again.' };
    const others = (await db.files.where('supplier').equals(supplier).toArray()).filter(
      (f) => f.id !== file && (f.match === null || !goesOn),
    );
    await dropFiles(db, others);
    await db.files.update(file, { match });
    const signature = signatureOf(match.format.kind, match.header);
    if (!match.header.includes(REASON_COLUMN))
      await db.matches.put({ id: `${supplier}:${hashOf(signature)}`, supplier, signature, match, at });
    const job: Job = { ...newJob(supplier, 'list', at), every: NEVER };
    if (!reading) await db.jobs.put(job);
    // What kept its scheduled reading is answered by this match.
    if (!service) await db.jobs.update(jobId(supplier, 'catalogue'), { lastOk: true, lastSays: null });
    return { ok: true as const };
  });
}

/** The rows that the last reading of each supplier refused. */
export async function lastRefused(db: SampanDatabase, supplier?: string): Promise<RefusedRow[]> {
  const rows = supplier
    ? await db.refused.where('supplier').equals(supplier).toArray()
    : await db.refused.toArray();
  const under = new Set((await db.stages.toArray()).map((s) => s.reading));
  return rows.filter((r) => !under.has(r.reading));
}

/** Fetches a supplier's list at once, to be matched by hand for the first time. */
export async function fetchToMatch(
  work: Work,
  supplier: SupplierConnection,
): Promise<{ ok: true; blob: Blob; name: string } | { ok: false; reason: string }> {
  if (supplier.list?.kind !== 'address')
    return { ok: false, reason: `${supplier.name} has no address to fetch from.` };
  const got = await askAddress(work.fetchAddress, supplier.list.url, null, null);
  if (!got.ok) return { ok: false, reason: got.trouble.says };
  return got.value === 'unchanged'
    ? { ok: false, reason: 'The list did not change.' }
    : { ok: true, blob: got.value.blob, name: got.value.name };
}

/**
 * What a list did not name is gone, by a person's word. `askFrom` is remembered for the supplier where it is
 * given.
 */
export async function confirmGone(work: Work, supplier: string, askFrom: Ppm | null): Promise<void> {
  const { db } = work;
  await db.transaction('rw', [db.doubts, db.jobs, db.connections], async () => {
    const doubt = await db.doubts.get(supplier);
    if (!doubt) return;
    await db.doubts.put({ ...doubt, confirmed: true });
    if (askFrom !== null) await db.connections.update(supplier, { askFrom } as Partial<Connection>);
    const job = await db.jobs.get(listJob(supplier));
    if (job?.running) return;
    await db.jobs.put({ ...newJob(supplier, 'list', work.clock()), every: NEVER });
  });
}

/** Keeps the items that a list left out; the next list is asked about anew. */
export async function keepMissing(work: Work, supplier: string): Promise<void> {
  await work.db.doubts.delete(supplier);
}

/** Gives a stopped reading up: what it read goes, the catalogue before it stays. */
export async function giveUp(work: Work, supplier: string): Promise<void> {
  await dropStage(work, supplier);
  const { db } = work;
  await db.transaction('rw', [db.files, db.bytes, db.jobs], async () => {
    await dropFiles(db, await db.files.where('supplier').equals(supplier).toArray());
    await db.jobs.delete(listJob(supplier));
  });
}
