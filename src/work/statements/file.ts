import { openList, rowsOf, sniff } from '../../connect/lists';
import { type Format, plainName } from '../../core/lists';
import { guessForm, readStatementRows, type StatementForm, type StatementRead } from '../../core/statements';
import { applyChange, connectionById, settingsOf, statementRules } from '../../store';
import { nowOf, type Work } from '../context/work';
import type { Said } from '../orders/actions';
import { currencyOf } from './places';
import { type TakenStatement, takeStatementIn } from './take';

/** A statement file as it would be read. */
export interface StatementFile {
  readonly header: readonly string[];
  /** The first rows. */
  readonly rows: readonly (readonly string[])[];
  readonly form: StatementForm;
  /** Its columns were matched before. */
  readonly remembered: boolean;
  /** What it would come to, but for the lines themselves. */
  readonly read: Omit<StatementRead, 'lines'> & { readonly count: number };
}

export type LookedAt =
  | { readonly ok: true; readonly value: StatementFile }
  | { readonly ok: false; readonly reason: string };

const SHOWN = 6;
const SAMPLED = 400;
const MOST_ROWS = 300_000;

interface Rows {
  readonly header: readonly string[];
  readonly rows: readonly (readonly string[])[];
  readonly lines: readonly number[];
}

type Opened = { readonly ok: true; readonly value: Rows } | { readonly ok: false; readonly reason: string };

/** The file that was looked at last: looked at again with another form, it is not read again. */
let last: { readonly file: File; readonly decimal: '.' | ','; readonly value: Rows } | null = null;

async function rowsIn(file: File, decimal: '.' | ','): Promise<Opened> {
  if (
    last?.file.name === file.name &&
    last.file.size === file.size &&
    last.file.lastModified === file.lastModified &&
    last.decimal === decimal
  )
    return { ok: true, value: last.value };
  const sniffed = await sniff(file, file.name);
  if (!sniffed.ok) return sniffed;
  const { format, blob } = sniffed.value;
  if (format.kind !== 'csv' && format.kind !== 'xlsx')
    return { ok: false, reason: 'Statements are read from CSV and XLSX.' };
  // Names of columns are what a statement is matched by.
  const first: Format = format.headerRow === null ? { ...format, headerRow: 0 } : format;
  const opened = await openList(blob, first, decimal);
  if (!opened.ok) return opened;
  const rows: (readonly string[])[] = [];
  const lines: number[] = [];
  for (let place: string | null = null; ; ) {
    const batch = await opened.value.next(place);
    lines.push(...batch.lines);
    rows.push(...rowsOf(batch));
    if (rows.length > MOST_ROWS)
      return { ok: false, reason: `It has more than ${MOST_ROWS} rows. Split it by its days.` };
    place = batch.next;
    if (place === null) break;
  }
  const value = { header: opened.value.header, rows, lines };
  last = { file, decimal, value };
  return { ok: true, value };
}

/** Looks at a statement file: by the form that is given, else by the remembered one, else by a guess. */
export async function lookAtStatement(
  work: Work,
  from: string,
  file: File,
  given?: StatementForm,
): Promise<LookedAt> {
  const c = await connectionById(work.db, from);
  if (!c) return { ok: false, reason: 'This connection is not there any more.' };
  const known = statementRules(await settingsOf(work.db)).forms[from];
  const opened = await rowsIn(file, given?.decimal ?? known?.decimal ?? '.');
  if (!opened.ok) return opened;
  const { header, rows, lines } = opened.value;
  if (!rows.length) return { ok: false, reason: 'It has a header row and nothing below it.' };
  const guess = guessForm(header, sampleOf(rows), { side: c.role, currency: currencyOf(c) });
  const fits = known && header.some((h) => known.columns[plainName(h)]);
  const form = given ?? (fits ? { ...known, words: { ...guess.words, ...known.words } } : guess);
  const { lines: taken, ...read } = readStatementRows(header, rows, lines, form, c.role);
  return {
    ok: true,
    value: {
      ...{ header, rows: rows.slice(0, SHOWN), form, remembered: !given && fits === true },
      read: { ...read, count: taken.length, refused: read.refused.slice(0, 50) },
    },
  };
}

/** Some rows of the beginning and of all over: words of kinds may come late. */
function sampleOf(rows: Rows['rows']): Rows['rows'] {
  const step = Math.max(1, Math.floor(rows.length / SAMPLED));
  return rows.filter((_, k) => k < SAMPLED || k % step === 0);
}

/** Takes in a statement file by a form, which is remembered for the next one of the same connection. */
export async function takeStatementFile(
  work: Work,
  {
    from,
    file,
    form,
    number,
  }: { readonly from: string; readonly file: File; readonly form: StatementForm; readonly number: string },
  goesOn: (lines: number) => boolean | Promise<boolean>,
): Promise<TakenStatement> {
  const { db } = work;
  const c = await connectionById(db, from);
  if (!c) return { ok: false, reason: 'This connection is not there any more.' };
  const opened = await rowsIn(file, form.decimal);
  if (!opened.ok) return opened;
  const { header, rows, lines } = opened.value;
  const read = readStatementRows(header, rows, lines, form, c.role);
  if (read.problems.length) return { ok: false, reason: read.problems[0]! };
  if (read.unknown.length)
    return { ok: false, reason: `Say first what “${read.unknown[0]!.word}” stands for.` };
  const taken = await takeStatementIn(
    work,
    from,
    { ...read, number, file: file.name, closing: null, due: null },
    goesOn,
  );
  last = null;
  if (taken.ok) await keepForm(work, from, form);
  return taken;
}

async function keepForm(work: Work, from: string, form: StatementForm): Promise<void> {
  const { db } = work;
  await db.transaction('rw', db.shopTables, async () => {
    const rules = statementRules(await settingsOf(db));
    const statements = { ...rules, forms: { ...rules.forms, [from]: form } };
    await applyChange(
      db,
      { by: 'person', name: 'How a statement file is read', undoable: false, quiet: true },
      [{ table: 'settings', id: 'shop', set: { statements } }],
      nowOf(work),
    );
  });
}

const MOST_UNDER = 10_000;

/** Sets up to which amount differences of an order are taken as stated by themselves, in minor units of its currency. */
export async function setTakenUnder(work: Work, under: number): Promise<Said> {
  if (!Number.isSafeInteger(under) || under < 0 || under > MOST_UNDER)
    return { ok: false, reason: 'Differences from 0 to 100.00 can be taken by themselves.' };
  const { db } = work;
  await db.transaction('rw', db.shopTables, async () => {
    const statements = { ...statementRules(await settingsOf(db)), under };
    await applyChange(
      db,
      { by: 'person', name: 'Small differences of statements', undoable: true },
      [{ table: 'settings', id: 'shop', set: { statements } }],
      nowOf(work),
    );
  });
  return { ok: true };
}
