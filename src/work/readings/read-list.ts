import { type Batch, type ListSource, openList, rowsOf } from '../../connect/lists';
import { hashOf, itemsOnSheet, tallyInWords } from '../../core/catalogue';
import { type Match, signatureOf, stockReader, whoseRow } from '../../core/lists';
import { decimalOf } from '../../core/money';
import { countOf } from '../../core/units';
import {
  catalogueNote,
  fileOf,
  type Job,
  type ListFile,
  type SampanDatabase,
  type SupplierConnection,
} from '../../store';
import type { ItemsRead, TextAhead } from '../context/list-helpers';
import type { Work } from '../context/work';
import { asksOfLeaps, costBefore, isLeap, leapInWords } from './cost-leaps';
import { dropFiles, toldApart } from './dropped-lists';
import { endReading } from './ending';
import { keptCells } from './items';
import { makePieces, openReading, storeStep } from './reading';
import { hasRoom, noteRefused, type Session } from './session';
import { doubtInWords } from './words';

/** A batch of records on its way: those known by their mark, and the others being read. */
interface Flight {
  readonly batch: Batch;
  /** The row each record came from before; -1 where it has to be read. */
  readonly known: Int32Array;
  readonly read: Promise<ItemsRead>;
}

/**
 * A list that is open. Opening a workbook or XML reads it whole, so that it is held between steps; lost, it
 * is opened again.
 */
interface OpenList {
  readonly file: string;
  readonly source: ListSource;
  /** The session that the parts in flight belong to; another session begins at its own place. */
  session: Session | null;
  /** A helper that finds the records, where there is a catalogue to be opened meanwhile. */
  ahead: TextAhead | null;
  flights: Flight[];
  /** Where the next batch begins; null once all are found. */
  place: string | null;
}

const opened = new WeakMap<SampanDatabase, OpenList>();

/** The place of a list's begin. */
const BEGIN = '';

/** Batches in flight at once: enough that helpers never wait for the next one. */
const IN_FLIGHT = 4;

/** Rows that room is made for at once: a file that begins with short lines promises more than it has. */
const MOST_RESERVED = 500_000;

/** Pieces written at once. */
const AT_ONCE = 4;

/** How long a list is read before other work has its turn, in milliseconds. */
const STEP = 1_000;

/** The result of one step of a list. */
export type ListStep =
  | { readonly state: 'going' }
  | { readonly state: 'failed'; readonly says: string }
  | { readonly state: 'done'; readonly says: string; readonly session: Session };

/**
 * Reads on in a list for about a second. Records known by their mark are passed over unread, the others are
 * read and laid out by helpers, and taken here in the list's order. Cost here: about 8 µs a new row, 3 µs a
 * known one.
 */
export async function readListStep(
  work: Work,
  c: SupplierConnection,
  job: Job,
  file: ListFile,
): Promise<ListStep> {
  const { db } = work;
  const match = file.match!;
  let held = opened.get(db);
  if (held?.file !== file.id) {
    const bytes = await db.bytes.get(file.id);
    if (!bytes) return { state: 'failed', says: 'The file is no longer stored. Drop it again.' };
    const list = await openList(fileOf(bytes.file), match.format, match.decimal);
    if (!list.ok) return { state: 'failed', says: list.reason };
    held = {
      file: file.id,
      source: list.value,
      session: null,
      ahead: null,
      flights: [],
      place: job.progress?.cursor ?? BEGIN,
    };
    opened.set(db, held);
  }
  const { source } = held;
  if (
    signatureOf(match.format.kind, toldApart(source.header)) !== signatureOf(match.format.kind, match.header)
  )
    return {
      state: 'failed',
      says: 'The columns of the file are not those it was matched by. Match it again.',
    };
  const { kind: _, whole: __, ...meaning } = match;
  if (held.session === null && (await catalogueNote(db, c.id))) lookAhead(work, held);
  const session = await openReading(work, c.id, `list:${hashOf(JSON.stringify(meaning))}`, job.progress);
  goOn(work, held, session);
  session.asksOfLeaps = asksOfLeaps(session, match);
  session.header ??= match.header;
  const startedAt = job.progress?.startedAt ?? job.running?.startedAt ?? work.clock();
  const begun = performance.now();
  const skuAt = match.fields.indexOf('sku');
  let cut = false;
  for (;;) {
    while (held.flights.length < IN_FLIGHT && held.place !== null) {
      held.flights.push(takeOff(work, session, match, await findNext(held)));
    }
    const { batch, known, read } = held.flights.shift()!;
    // Room for as many rows as there will be by what was read so far: growing moves all that is there.
    if (session.catalogue.length === 0 && batch.at > 0)
      session.catalogue.reserve(
        Math.min(MOST_RESERVED, Math.ceil((batch.lines.length * source.total * 1.05) / batch.at)),
      );
    if (match.kind === 'stock') takeStock(session, match, batch);
    else await takeItems(session, match, batch, known, await read);
    for (const b of batch.broken) {
      const sku = b.cells.length > skuAt ? whoseRow(match, b.cells) : null;
      if (match.kind === 'catalogue') session.reading.keep(sku);
      noteRefused(session, {
        line: b.line,
        sku: sku ?? '',
        column: null,
        value: b.text,
        reason: b.reason,
        taken: false,
        asks: false,
        cells: null,
      });
    }
    cut ||= batch.cut;
    session.done = batch.at;
    session.cursor = batch.next;
    session.steps++;
    if (batch.next === null) break;
    makePieces(session);
    // Each part is written while the next one is read; between steps a stop is heard, and other work has its
    // turn.
    const rest = performance.now() - begun > STEP;
    if (rest || session.pieces.length >= AT_ONCE)
      await storeStep(work, session, job.id, startedAt, source.total, rest);
    if (rest) return { state: 'going' };
  }
  const { tally, refused, doubt } = await endReading(work, session, {
    whole: match.whole && match.kind === 'catalogue',
    from: file.name,
    cut,
  });
  opened.delete(db);
  await dropFiles(db, [file]);
  const says = `${countOf(tally.read, 'row')} of ${file.name}${refused ? `, ${countOf(refused, 'remark')}` : ''}: ${tallyInWords(tally)}${doubt ? `; ${doubtInWords(doubt)}` : cut ? '; the file breaks off in the middle of a record' : ''}`;
  return { state: 'done', says, session };
}

/**
 * Has records found by a helper from the place reached on: the catalogue before is opened meanwhile, and most
 * records will be known.
 */
function lookAhead(work: Work, held: OpenList): void {
  const { text } = held.source;
  if (text && held.place !== null)
    held.ahead = work.helpers.findText(text.list, held.place || text.list.begin);
}

/** Goes on where a session stands; what is in flight for another one is dropped. */
function goOn(work: Work, held: OpenList, session: Session): void {
  if (held.session === session) return;
  const place = session.cursor ?? BEGIN;
  const elsewhere = held.session !== null || held.place !== place;
  Object.assign(held, { session, flights: [], place });
  if (elsewhere && held.ahead) lookAhead(work, held);
}

/** Finds the next batch, of which there must be one. */
async function findNext(held: OpenList): Promise<Batch> {
  const { source, ahead, place } = held;
  const found = ahead && (await ahead.next());
  const batch = found ? source.text!.batchOf(found) : await source.next(place || null);
  held.place = batch.next;
  return batch;
}

const NOTHING: ItemsRead = { sheets: [], refused: [], spoiled: [] };

/** The two numbers of each record that is wanted. */
function pairsOf(marks: Int32Array, wanted: Int32Array): Int32Array {
  const own = new Int32Array(wanted.length * 2);
  for (let j = 0; j < wanted.length; j++) {
    own[j * 2] = marks[wanted[j]! * 2]!;
    own[j * 2 + 1] = marks[wanted[j]! * 2 + 1]!;
  }
  return own;
}

/** Sets a batch on its way: what is known by its mark needs no reading. */
function takeOff(work: Work, session: Session, match: Match, batch: Batch): Flight {
  const { lines, marks } = batch;
  const known = new Int32Array(lines.length).fill(-1);
  if (match.kind === 'stock') return { batch, known, read: Promise.resolve(NOTHING) };
  if (session.reading.hasMarks)
    for (let k = 0; k < known.length; k++)
      known[k] = session.reading.rowOfMark(marks[k * 2]!, marks[k * 2 + 1]!);
  const wanted = Int32Array.from(known.keys()).filter((k) => known[k]! < 0);
  if (!wanted.length) return { batch, known, read: Promise.resolve(NOTHING) };
  const part = batch.part(wanted);
  const all = wanted.length === lines.length;
  const own = all ? marks : pairsOf(marks, wanted);
  const read = work.helpers.readItems(match, part, all ? lines : wanted.map((k) => lines[k]!), own);
  // A failure shows when its turn comes.
  read.catch(() => {});
  return { batch, known, read };
}

/** Takes what came of a batch in the order of the list: of two records of one SKU the first stays. */
async function takeItems(
  session: Session,
  match: Match,
  batch: Batch,
  known: Int32Array,
  made: ItemsRead,
): Promise<void> {
  const { reading, catalogue } = session;
  const lines = linesOf(session);
  const column = match.header[match.fields.indexOf('sku')] ?? null;
  const doubled = new Map<number, number>();
  const twice = (line: number, row: number) => doubled.set(line, row);
  const leapt = new Map<number, { readonly sku: string; readonly was: number; readonly cost: number }>();
  let next = 0;
  let spoiled = 0;
  /** Counts what was known or spoiled above a line. */
  const seeUntil = (line: number) => {
    for (; next < known.length && batch.lines[next]! < line; next++) {
      const row = known[next]!;
      if (row < 0) continue;
      if (reading.seeRow(row)) lines.set(row, batch.lines[next]!);
      else twice(batch.lines[next]!, row);
    }
    for (; spoiled < made.spoiled.length && made.spoiled[spoiled]!.line < line; spoiled++)
      reading.keep(made.spoiled[spoiled]!.sku);
  };
  for (const { sheet, lines: own } of made.sheets) {
    if (reading.putSheet(sheet)) {
      own.forEach((line, k) => {
        lines.set(catalogue.length - own.length + k, line);
      });
      continue;
    }
    for (const [k, i] of itemsOnSheet(sheet).entries()) {
      const line = own[k]!;
      seeUntil(line);
      const was = session.asksOfLeaps ? costBefore(catalogue, i.item.sku) : null;
      if (was !== null && isLeap(was, i.item.cost)) {
        reading.keep(i.item.sku);
        leapt.set(line, { sku: i.item.sku, was, cost: i.item.cost });
        continue;
      }
      const put = reading.put(i.item, i.detail, i.markA, i.markB);
      const row = reading.rowOf(i.item.sku);
      if (put === 'twice') twice(line, row);
      else lines.set(row, line);
    }
  }
  seeUntil(Number.POSITIVE_INFINITY);
  const refused = made.refused.filter((r) => !doubled.has(r.line!));
  for (const [line, row] of doubled) {
    const sku = reading.skuOf(row);
    const before = lines.at(row);
    const reason = `the SKU came before${before ? `, in line ${before}` : ''}; the first one stays`;
    const cells = hasRoom(session) ? keptCells(await batch.cells(batch.lines.indexOf(line))) : null;
    refused.push({ line, sku, column, value: sku, reason, taken: false, asks: false, cells });
  }
  const costColumn = match.header[match.fields.indexOf('cost')] ?? null;
  for (const [line, { sku, was, cost }] of leapt) {
    const cells = hasRoom(session) ? keptCells(await batch.cells(batch.lines.indexOf(line))) : null;
    const value = decimalOf(cost, match.currency);
    refused.push({
      line,
      sku,
      column: costColumn,
      value,
      reason: leapInWords(was, match.currency),
      taken: false,
      asks: true,
      cells,
    });
  }
  refused.sort((a, b) => a.line! - b.line!);
  for (const r of refused) noteRefused(session, r);
}

/**
 * The lines that rows of this reading came from, to say where a SKU came first. Lost with the session; then
 * it is not said.
 */
class Lines {
  private list = new Int32Array(4096);
  set(row: number, line: number): void {
    if (row >= this.list.length) {
      const more = new Int32Array(Math.max(row + 1, this.list.length * 2));
      more.set(this.list);
      this.list = more;
    }
    this.list[row] = line;
  }
  at(row: number): number {
    return this.list[row] ?? 0;
  }
}

const lines = new WeakMap<Session, Lines>();

function linesOf(session: Session): Lines {
  let own = lines.get(session);
  if (!own) {
    own = new Lines();
    lines.set(session, own);
  }
  return own;
}

function takeStock(session: Session, match: Match, batch: Batch): void {
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
  for (const [k, cells] of rowsOf(batch).entries()) {
    const refuse = (sku: string, column: string | null, value: string, reason: string, asks = false) =>
      noteRefused(session, {
        line: batch.lines[k]!,
        sku,
        column,
        value,
        reason,
        taken: false,
        asks,
        cells: keptCells(cells),
      });
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
    if (row.cost !== null && session.asksOfLeaps && isLeap(known.item.cost, row.cost)) {
      const column = match.header[match.fields.indexOf('cost')] ?? null;
      refuse(
        known.item.sku,
        column,
        decimalOf(row.cost, match.currency),
        leapInWords(known.item.cost, match.currency),
        true,
      );
      continue;
    }
    const item = { ...known.item, stock: row.stock ?? known.item.stock, cost: row.cost ?? known.item.cost };
    // Without a mark: the full list, when it comes again, is read again for this item.
    if (reading.put(item, null) === 'twice')
      refuse(known.item.sku, null, known.item.sku, 'the item came before; the first one stays');
  }
}
