import { askAddress } from '../connect/address';
import { type ListSource, openList, type Sniffed, sniff } from '../connect/lists';
import { hashOf, tallyInWords } from '../core/catalogue';
import {
  cellInWords,
  type Format,
  guessMatch,
  type ListKind,
  type Match,
  matchProblems,
  REASON_COLUMN,
  rowReader,
  signatureOf,
  stockReader,
} from '../core/lists';
import { countOf } from '../core/units';
import type { Job, ListFile, Refused, RefusedRow, SampanDatabase, SupplierConnection } from '../store';
import type { Work } from './context';
import { listJob, NEVER, newJob } from './job';
import { dropStage, endReading, makePieces, noteRefused, openReading, type Session, storeStep } from './reading';

/** The first rows of a list as they would be read, for the picture on which the match is made. */
export interface Sample {
  readonly header: readonly string[];
  readonly rows: readonly (readonly string[])[];
  readonly lines: readonly number[];
  readonly match: Match;
  readonly problems: readonly string[];
  /** What each cell reads as; null where its column is not used. */
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
): Promise<{ ok: true; source: ListSource; rows: string[][]; lines: number[] } | { ok: false; reason: string }> {
  // The first piece is enough for a look; text files are cut behind it.
  const part = format.kind === 'csv' && blob.size > 400_000 ? blob.slice(0, 200_000) : blob;
  const opened = await openList(part, format, decimal);
  if (!opened.ok) return opened;
  const batch = await opened.value.read(null, () => false);
  const rows = batch.rows.slice(0, SAMPLED).flatMap((r) => (r ? [[...r]] : []));
  return { ok: true, source: opened.value, rows, lines: [...batch.lines.slice(0, SAMPLED)] };
}

export function sampleOf(match: Match, rows: readonly (readonly string[])[], lines: readonly number[]): Sample {
  const shown = rows.slice(0, SHOWN);
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
const toldApart = (header: readonly string[]): string[] =>
  header.map((h, i) => (h && header.indexOf(h) !== i ? `${h} (${header.slice(0, i + 1).filter((o) => o === h).length})` : h));

/** Takes files away with their bytes. */
export async function dropFiles(db: SampanDatabase, files: readonly { readonly id: string }[]): Promise<void> {
  const ids = files.map((f) => f.id);
  await Promise.all([db.files.bulkDelete(ids), db.bytes.bulkDelete(ids)]);
}

/** Looks at a dropped or fetched file and says how it would be read; keeps it until it is read or taken away. */
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
  if (!first.rows.length) return { ok: false, reason: `“${name}” has names of columns and no rows below them.` };
  const doubled = first.source.header.filter((h, i, all) => h && all.indexOf(h) !== i);
  const header = toldApart(first.source.header);
  const guess = guessMatch(format, header, first.rows, supplier.currency, kind);
  const own = await db.matches.where('supplier').equals(supplier.id).toArray();
  const signature = signatureOf(format.kind, header);
  const known = own.find((m) => m.signature === signature);
  const partial = header.includes(REASON_COLUMN);
  const match: Match = known
    ? {
        ...known.match,
        format,
        header,
        fields: refield(known.match, header),
        whole: known.match.whole && !partial,
      }
    : guess;
  const id = work.newId();
  const row: ListFile = { id, supplier: supplier.id, name: name.slice(0, 200), size: file.size, at: work.clock(), match: null };
  await db.transaction('rw', [db.files, db.bytes], async () => {
    // One list waits for its match at a time; one that is being read stays.
    const waiting = (await db.files.where('supplier').equals(supplier.id).toArray()).filter((f) => f.match === null);
    await dropFiles(db, waiting);
    await db.files.put(row);
    await db.bytes.put({ id, blob });
  });
  const told = [...notes, ...(doubled.length ? [`Two columns are named “${doubled[0]}”. They are told apart by a number.`] : [])];
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

/** Columns that only a file of refused rows has are not used. */
const refield = (match: Match, header: readonly string[]) => header.map((h) => match.fields[match.header.indexOf(h)] ?? null);

/** The first rows again, after the seller chose another way to open the file. */
export async function resample(
  work: Work,
  file: string,
  match: Match,
  reguess: boolean,
): Promise<{ ok: true; sample: Sample } | { ok: false; reason: string }> {
  const row = await work.db.bytes.get(file);
  if (!row) return { ok: false, reason: 'This file is not kept any more. Drop it again.' };
  const first = await firstRows(row.blob, match.format, match.decimal);
  if (!first.ok) return first;
  const header = toldApart(first.source.header);
  const changed = header.length !== match.header.length || header.some((h, i) => h !== match.header[i]);
  const fitting = changed || reguess ? { ...guessMatch(match.format, header, first.rows, match.currency, match.kind), format: match.format } : match;
  return { ok: true, sample: sampleOf(fitting, first.rows, first.lines) };
}

/** Remembers a match for a supplier and has the file read by the runner. */
export async function startReading(work: Work, supplier: string, file: string, match: Match): Promise<{ ok: true } | { ok: false; reason: string }> {
  const { db } = work;
  const problems = matchProblems(match);
  if (problems.length) return { ok: false, reason: problems.join(' ') };
  const at = work.clock();
  const stage = await db.stages.get(supplier);
  if (stage) await dropStage(work, supplier);
  return db.transaction('rw', [db.files, db.bytes, db.matches, db.jobs], async () => {
    const row = await db.files.get(file);
    if (!row) return { ok: false as const, reason: 'This file is not kept any more. Drop it again.' };
    const others = (await db.files.where('supplier').equals(supplier).toArray()).filter((f) => f.id !== file);
    await dropFiles(db, others);
    await db.files.update(file, { match });
    const signature = signatureOf(match.format.kind, match.header);
    if (!match.header.includes(REASON_COLUMN)) await db.matches.put({ id: `${supplier}:${hashOf(signature)}`, supplier, signature, match, at });
    const job: Job = { ...newJob(supplier, 'list', at), every: NEVER };
    await db.jobs.put(job);
    return { ok: true as const };
  });
}

/** What was refused at the last reading of each supplier. */
export async function lastRefused(db: SampanDatabase, supplier?: string): Promise<RefusedRow[]> {
  const rows = supplier ? await db.refused.where('supplier').equals(supplier).toArray() : await db.refused.toArray();
  const under = new Set((await db.stages.toArray()).map((s) => s.reading));
  return rows.filter((r) => !under.has(r.reading));
}

/** Fetches a supplier's list at once, to be matched by hand for the first time. */
export async function fetchToMatch(
  work: Work,
  supplier: SupplierConnection,
): Promise<{ ok: true; blob: Blob; name: string } | { ok: false; reason: string }> {
  if (supplier.list?.kind !== 'address') return { ok: false, reason: `${supplier.name} has no address to fetch from.` };
  const got = await askAddress(work.fetchAddress, supplier.list.url, null, null);
  if (!got.ok) return { ok: false, reason: got.trouble.says };
  return got.value === 'unchanged' ? { ok: false, reason: 'The list did not change.' } : { ok: true, blob: got.value.blob, name: got.value.name };
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

/** Lists that are open, by file: opening a workbook or XML reads it whole. */
const opened = new WeakMap<SampanDatabase, { file: string; source: ListSource }>();

/** Pieces written at once. */
const AT_ONCE = 10;

/** How long a list is read before other work has its turn, in milliseconds. */
const STEP = 1_000;

/** What one step of a list came to. */
export type ListStep =
  | { readonly state: 'going' }
  | { readonly state: 'failed'; readonly says: string }
  | { readonly state: 'done'; readonly says: string; readonly session: Session };

/**
 * Reads the next piece of a list: some megabytes of text, or some thousand rows. Rows known by their mark are passed over unread.
 * Cost: about 15 µs a new row, 2 µs a known one.
 */
export async function readListStep(work: Work, c: SupplierConnection, job: Job, file: ListFile): Promise<ListStep> {
  const { db } = work;
  const match = file.match!;
  let held = opened.get(db);
  if (held?.file !== file.id) {
    const bytes = await db.bytes.get(file.id);
    if (!bytes) return { state: 'failed', says: 'The file is not kept any more. Drop it again.' };
    const list = await openList(bytes.blob, match.format, match.decimal);
    if (!list.ok) return { state: 'failed', says: list.reason };
    held = { file: file.id, source: list.value };
    opened.set(db, held);
  }
  const { source } = held;
  if (signatureOf(match.format.kind, toldApart(source.header)) !== signatureOf(match.format.kind, match.header))
    return { state: 'failed', says: 'The columns of the file are not those it was matched by. Match it again.' };
  const { kind: _, whole: __, ...meaning } = match;
  const session = await openReading(work, c.id, `list:${hashOf(JSON.stringify(meaning))}`, job.progress);
  session.header ??= match.header;
  const startedAt = job.progress?.startedAt ?? job.running?.startedAt ?? work.clock();
  const begun = performance.now();
  for (;;) {
    const batch = await source.read(session.cursor, (a, b) => match.kind === 'catalogue' && session.reading.known(a, b));
    if (match.kind === 'stock') takeStock(session, match, batch);
    else takeItems(session, match, batch);
    for (const b of batch.broken) noteRefused(session, { line: b.line, sku: '', column: null, value: b.text, reason: b.reason, cells: null });
    session.done = batch.at;
    session.cursor = batch.next;
    session.steps++;
    if (batch.next === null) break;
    makePieces(session);
    // Each part is written while the next one is read; between steps a stop is heard, and other work has its turn.
    const rest = performance.now() - begun > STEP;
    if (rest || session.pieces.length >= AT_ONCE) await storeStep(work, session, job.id, startedAt, source.total, [], rest);
    if (rest) return { state: 'going' };
  }
  const { tally, refused } = await endReading(work, session, match.whole && match.kind === 'catalogue', file.name);
  opened.delete(db);
  await dropFiles(db, [file]);
  const says = `${countOf(tally.read, 'row')} of ${file.name}${refused ? `, ${countOf(refused, 'remark')}` : ''}: ${tallyInWords(tally)}`;
  return { state: 'done', says, session };
}

type Taken = Awaited<ReturnType<ListSource['read']>>;

function takeItems(session: Session, match: Match, batch: Taken): void {
  const { reading } = session;
  const read = rowReader(match);
  const skuAt = match.fields.indexOf('sku');
  const firstLine = linesOf(session);
  const width = match.header.length;
  for (const [k, cells] of batch.rows.entries()) {
    if (cells === null) continue;
    const line = batch.lines[k]!;
    const refuse = (sku: string, column: string | null, value: string, reason: string, keep: boolean) => {
      noteRefused(session, { line, sku, column, value, reason, cells: keep ? [...cells].slice(0, 200) : null } satisfies Refused);
    };
    const sku = (cells[skuAt] ?? '').trim().slice(0, 64);
    if (cells.length > width && cells.slice(width).some((c) => c.trim())) {
      reading.keep(sku);
      refuse(
        sku,
        null,
        cells.slice(width).join(' ').slice(0, 200),
        `the row has ${cells.length} cells, there are ${width} columns: a delimiter or quote stands in a text`,
        true,
      );
      continue;
    }
    const row = read(cells);
    if (!row.ok) {
      reading.keep(sku);
      refuse(sku, row.problem.column, row.problem.value, row.problem.reason, true);
      continue;
    }
    if (reading.put(row.item, row.detail, batch.marks[k * 2], batch.marks[k * 2 + 1]) === 'twice') {
      refuse(
        sku,
        match.header[skuAt] ?? null,
        sku,
        `the SKU came before${firstLine.has(sku) ? `, in line ${firstLine.get(sku)}` : ''}; the first one stays`,
        true,
      );
      continue;
    }
    if (firstLine.size < 200_000) firstLine.set(row.item.sku, line);
    for (const t of row.told) refuse(row.item.sku, t.column, t.value, t.reason, false);
  }
}

/** Lines of the rows of this reading, to say where a SKU came first. Lost with the session; then it is not said. */
const lines = new WeakMap<Session, Map<string, number>>();
function linesOf(session: Session): Map<string, number> {
  let own = lines.get(session);
  if (!own) {
    own = new Map();
    lines.set(session, own);
  }
  return own;
}

function takeStock(session: Session, match: Match, batch: Taken): void {
  const { reading, catalogue } = session;
  const read = stockReader(match);
  const byGtin = new Map<number, string[]>();
  if (!match.fields.includes('sku'))
    for (let row = 0; row < catalogue.length; row++) {
      const gtin = Math.floor(catalogue.gtin[row]! / 16);
      if (!gtin || catalogue.gone[row]) continue;
      const own = byGtin.get(gtin);
      if (own) own.push(catalogue.skuAt(row));
      else byGtin.set(gtin, [catalogue.skuAt(row)]);
    }
  for (const [k, cells] of batch.rows.entries()) {
    if (cells === null) continue;
    const refuse = (sku: string, column: string | null, value: string, reason: string) =>
      noteRefused(session, { line: batch.lines[k]!, sku, column, value, reason, cells: [...cells].slice(0, 200) });
    const row = read(cells);
    if (!row.ok) {
      refuse('', row.problem.column, row.problem.value, row.problem.reason);
      continue;
    }
    const named = row.sku ? [row.sku] : (byGtin.get(Number(row.gtin)) ?? []);
    if (named.length > 1) {
      refuse('', null, row.gtin ?? '', `${named.length} items have this barcode: name the SKU`);
      continue;
    }
    const known = named[0] === undefined ? null : reading.itemOf(named[0]);
    if (!known || catalogue.gone[known.row]) {
      refuse(row.sku ?? '', null, row.sku ?? row.gtin ?? '', 'no item of this supplier has it');
      continue;
    }
    const item = { ...known.item, stock: row.stock ?? known.item.stock, cost: row.cost ?? known.item.cost };
    // Without a mark: the full list, when it comes again, is read again for this item.
    if (reading.put(item, null) === 'twice') refuse(known.item.sku, null, known.item.sku, 'the item came before; the first one stays');
  }
}
