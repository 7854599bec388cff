import Papa from 'papaparse';
import { markOf } from '../../core/catalogue';
import {
  cellsOf,
  type Encoding,
  type Format,
  flatten,
  guessHeaderRow,
  headerOf,
  listAt,
  repeatingIn,
} from '../../core/lists';
import { openArchive } from './archive';
import { openCsv, readText } from './csv';
import { encodingOf } from './encoding';
import { parseJson } from './json';
import {
  type Batch,
  LARGEST_OTHER,
  LARGEST_TEXT,
  type ListSource,
  LONGEST_NAME,
  MOST_CELLS,
  MOST_COLUMNS,
  MOST_ROWS,
  megabytes,
  type Opened,
  type Part,
  refuse,
  tooWide,
} from './source';
import { readSheets } from './workbook';
import { recordsOfXml, repeatingInXml } from './xml';

/** What a file is, found from its first bytes, with the choices a seller can make about it. */
export interface Sniffed {
  readonly format: Format;
  /** The list itself, taken out of the archive it came in. */
  readonly blob: Blob;
  readonly name: string;
  /** Repeating elements of nested data, sheets of a workbook. */
  readonly choices: readonly { readonly path: string; readonly count: number }[];
  /** What was noticed on the way. */
  readonly notes: readonly string[];
}

const startsWith = (b: Uint8Array, ...bytes: number[]) => bytes.every((x, i) => b[i] === x);
const ascii = (b: Uint8Array, from = 0, to = b.length) => String.fromCharCode(...b.subarray(from, to));

/** The sign that parts the fields: the one that gives most lines the same number of fields. */
export function guessDelimiter(text: string): string {
  let best = ',';
  let most = 0;
  for (const delimiter of [',', ';', '\t', '|']) {
    const rows = Papa.parse<string[]>(text, { delimiter, preview: 40 }).data.filter(
      (r) => r.length > 1 || r[0] !== '',
    );
    const widths = new Map<number, number>();
    for (const row of rows) widths.set(row.length, (widths.get(row.length) ?? 0) + 1);
    const [width, count] = [...widths].sort((a, b) => b[1] - a[1] || b[0] - a[0])[0] ?? [1, 0];
    const score = width < 2 ? 0 : (count / Math.max(rows.length, 1)) * 100 + Math.min(width, 40);
    if (score > most) {
      most = score;
      best = delimiter;
    }
  }
  return best;
}

const LIST = /\.(csv|tsv|txt|tab|xml|json|jsonl|ndjson|xlsx)$/i;

async function sniffZip(file: Blob, name: string, depth: number): Promise<Opened<Sniffed>> {
  const opened = await openArchive(file);
  if (!opened.ok) return opened;
  const entries = opened.value;
  if (entries.some((e) => e.name === 'xl/workbook.xml')) return sniffXlsx(file, name);
  if (depth > 0)
    return refuse('There is an archive in the archive. Unpack the outer one and drop the list itself.');
  const hostile = entries.filter((e) => /(^|[\\/])\.\.([\\/]|$)|^[\\/]|^[a-z]:/i.test(e.name));
  const lists = entries.filter(
    (e) => !hostile.includes(e) && LIST.test(e.name) && !e.name.includes('__MACOSX') && e.size > 0,
  );
  const notes = hostile.map(
    (e) => `“${e.name.slice(0, 60)}” in the archive names a place outside of it and was left out.`,
  );
  if (!lists.length)
    return refuse(
      `${notes.join(' ')} There is no price list in the archive: it holds ${
        entries
          .filter((e) => !hostile.includes(e))
          .slice(0, 4)
          .map((e) => `“${e.name.slice(0, 40)}”`)
          .join(', ') || 'nothing else'
      }. CSV, TSV, XLSX, XML and JSON are read.`.trim(),
    );
  const chosen = [...lists].sort((a, b) => b.size - a.size)[0]!;
  if (lists.length > 1)
    notes.push(`The archive holds ${lists.length} lists; “${chosen.name}”, the largest, is read.`);
  const unpacked = await chosen.bytes();
  if (!unpacked.ok) return unpacked;
  const inner = await sniff(new Blob([unpacked.value]), chosen.name, depth + 1);
  return inner.ok ? { ok: true, value: { ...inner.value, notes: [...notes, ...inner.value.notes] } } : inner;
}

/**
 * Cells of a workbook as text: whole numbers in full, days as 2026-11-23, the decimal sign as the list's
 * texts have it.
 */
function cellText(value: unknown, decimal: '.' | ','): string {
  if (value === null || value === undefined) return '';
  if (value instanceof Date) return value.toISOString().slice(0, 10);
  if (typeof value === 'number') return decimal === ',' ? String(value).replace('.', ',') : String(value);
  return String(value);
}

async function sniffXlsx(file: Blob, name: string): Promise<Opened<Sniffed>> {
  const sheets = await readSheets(file);
  if (!sheets.ok) return sheets;
  const choices = sheets.value.map((s) => ({ path: s.name, count: s.data.length }));
  const sheet = choices.reduce((best, s, i) => (s.count > choices[best]!.count ? i : best), 0);
  const rows = sheets.value[sheet]?.data.slice(0, 40).map((r) => r.map((c) => cellText(c, '.'))) ?? [];
  if (!rows.length) return refuse('The workbook has no filled cells.');
  return {
    ok: true,
    value: {
      format: { kind: 'xlsx', sheet, headerRow: guessHeaderRow(rows) },
      blob: file,
      name,
      choices,
      notes: [],
    },
  };
}

/** Says what a file is, or why it is no list. Looks at its first bytes; archives are opened. */
export async function sniff(file: Blob, name: string, depth = 0): Promise<Opened<Sniffed>> {
  if (file.size === 0) return refuse(`“${name}” is empty. If it comes from a portal, fetch it again.`);
  const head = new Uint8Array(await file.slice(0, 262_144).arrayBuffer());
  if (startsWith(head, 0x50, 0x4b, 3, 4) || startsWith(head, 0x50, 0x4b, 5, 6))
    return sniffZip(file, name, depth);
  if (startsWith(head, 0xd0, 0xcf, 0x11, 0xe0))
    return refuse('This is a workbook in the old .xls format. Open it and save it as .xlsx or CSV.');
  if (startsWith(head, 0x1f, 0x8b)) return refuse('This is a gzip archive. Unpack it, or send it as .zip.');
  if (ascii(head, 0, 3) === 'BZh') return refuse('This is a bzip2 archive. Unpack it, or send it as .zip.');
  if (startsWith(head, 0xfd, 0x37, 0x7a, 0x58, 0x5a) || startsWith(head, 0x37, 0x7a, 0xbc, 0xaf))
    return refuse('This is an xz or 7z archive. Unpack it, or send it as .zip.');
  if (ascii(head, 0, 5) === '%PDF-')
    return refuse('This is a PDF: pages to look at, not a list. Ask the supplier for CSV or XLSX.');
  if (
    startsWith(head, 0x89, 0x50, 0x4e, 0x47) ||
    startsWith(head, 0xff, 0xd8, 0xff) ||
    ascii(head, 0, 4) === 'GIF8'
  )
    return refuse('This is a picture, not a list. Ask the supplier for CSV or XLSX.');
  const encoding = encodingOf(head, file.size <= head.length);
  if (encoding === null) {
    const zero = head.indexOf(0);
    const line = head.subarray(0, zero).reduce((n, byte) => n + (byte === 10 ? 1 : 0), 1);
    return refuse(
      `This is not text: byte ${zero + 1}, in line ${line}, is a zero, which no list has. CSV, TSV, XLSX, XML, JSON and archives of them are read.`,
    );
  }
  if (file.size > LARGEST_TEXT)
    return refuse(
      `“${name}” has ${megabytes(file.size)}; lists of up to ${megabytes(LARGEST_TEXT)} are read. Ask the supplier for fewer columns, or split it.`,
    );
  const text = new TextDecoder(encoding).decode(head).replace(/^﻿/, '');
  const first = text.trimStart();
  if (!first) return refuse(`“${name}” is blank.`);
  if (/^<(!doctype html|html)/i.test(first))
    return refuse(
      'This is a web page, perhaps a sign-in page, not a list. Check the address or fetch the file again.',
    );
  if (first.startsWith('<')) {
    if (file.size > LARGEST_OTHER)
      return refuse(
        `XML of up to ${megabytes(LARGEST_OTHER)} is read, this has ${megabytes(file.size)}. Ask for CSV.`,
      );
    const choices = await repeatingInXml(file, xmlEncoding(first, encoding));
    if (!choices.ok) return choices;
    if (!choices.value.length)
      return refuse('No element repeats in this XML, so that there is no list in it.');
    return {
      ok: true,
      value: {
        format: { kind: 'xml', path: choices.value[0]!.path },
        blob: file,
        name,
        choices: choices.value,
        notes: [],
      },
    };
  }
  if (first.startsWith('[') || first.startsWith('{')) {
    const data = await readJson(file, encoding);
    if (!data.ok) return data;
    const choices = repeatingIn(data.value);
    if (!choices.length) return refuse('There is no list of records in this JSON.');
    return {
      ok: true,
      value: { format: { kind: 'json', path: choices[0]!.path }, blob: file, name, choices, notes: [] },
    };
  }
  const delimiter = guessDelimiter(text);
  const rows = Papa.parse<string[]>(text, { delimiter, preview: 40 }).data.filter((r) =>
    r.some((c) => c.trim()),
  );
  const notes =
    encoding === 'windows-1252'
      ? ['The text is read as Windows-1252. If accents look wrong, choose another encoding.']
      : [];
  return {
    ok: true,
    value: {
      format: { kind: 'csv', delimiter, encoding, headerRow: guessHeaderRow(rows) },
      blob: file,
      name,
      choices: [],
      notes,
    },
  };
}

const xmlEncoding = (head: string, guessed: Encoding): string => {
  const named = /^<\?xml[^>]*encoding=["']([\w-]+)["']/i.exec(head)?.[1]?.toLowerCase();
  if (!named || guessed.startsWith('utf-16')) return guessed;
  try {
    return new TextDecoder(named).encoding;
  } catch {
    return guessed;
  }
};

async function readJson(file: Blob, encoding: Encoding): Promise<Opened<unknown>> {
  if (file.size > LARGEST_OTHER)
    return refuse(
      `JSON of up to ${megabytes(LARGEST_OTHER)} is read, this has ${megabytes(file.size)}. Ask for CSV.`,
    );
  return parseJson(new TextDecoder(encoding).decode(await file.arrayBuffer()).replace(/^\ufeff/, ''));
}

/** Rows that are all in memory, given out some thousands at a time. */
function fromRows(
  names: readonly string[],
  rows: readonly (readonly string[])[],
  lines: readonly number[],
  cut = false,
): Opened<ListSource> {
  const AT_ONCE = 5_000;
  const header = names.map((name) => name.slice(0, LONGEST_NAME));
  if (header.length > MOST_COLUMNS) return refuse(tooWide(header.length));
  if (rows.length * header.length > MOST_CELLS)
    return refuse(
      `It has ${rows.length} rows of ${header.length} columns; up to ${MOST_CELLS / 1_000_000} million cells are read. Ask for CSV.`,
    );
  const source: ListSource = {
    header,
    total: rows.length,
    async next(place): Promise<Batch> {
      const from = Number(place ?? 0);
      const to = Math.min(from + AT_ONCE, rows.length);
      const some = rows.slice(from, to);
      const marks = new Int32Array(some.length * 2);
      for (const [k, cells] of some.entries()) {
        const { a, b } = markOf(cells.join('\u001f'));
        marks[k * 2] = a;
        marks[k * 2 + 1] = b;
      }
      return {
        lines: Int32Array.from(lines.slice(from, to)),
        marks,
        broken: [],
        next: to < rows.length ? String(to) : null,
        at: to,
        cut: cut && to === rows.length,
        part: (wanted) => ({ kind: 'cells', rows: Array.from(wanted, (k) => some[k]!) }),
        cells: async (k) => some[k]!,
      };
    },
  };
  return { ok: true, value: source };
}

const filled = (cells: readonly string[]) => cells.some((c) => c.trim());

const lastFilled = (cells: readonly string[]) => cells.findLastIndex((c) => c.trim() !== '');

/**
 * Opens a list for reading. @param decimal the sign that numbers of a workbook are written with, as its texts
 * have it
 */
export async function openList(file: Blob, format: Format, decimal: '.' | ','): Promise<Opened<ListSource>> {
  switch (format.kind) {
    case 'csv':
      return openCsv(file, format.delimiter, format.encoding, format.headerRow);
    case 'xlsx': {
      const sheets = await readSheets(file);
      if (!sheets.ok) return sheets;
      const sheet = sheets.value[format.sheet];
      if (!sheet) return refuse(`The workbook has no sheet ${format.sheet + 1}.`);
      const rows = sheet.data.map((r) => r.map((c) => cellText(c, decimal)));
      const top = format.headerRow;
      const width = Math.max(0, ...rows.slice(0, 200).map((r) => r.length));
      const header =
        top === null
          ? Array.from({ length: width }, (_, i) => `Column ${i + 1}`)
          : (rows[top] ?? []).map((h) => h.trim());
      const body = rows.flatMap((cells, i) =>
        i > (top ?? -1) && filled(cells)
          ? [{ cells: cells.slice(0, Math.max(header.length, lastFilled(cells) + 1)), line: i + 1 }]
          : [],
      );
      return fromRows(
        header,
        body.map((r) => r.cells),
        body.map((r) => r.line),
      );
    }
    case 'json': {
      const head = new Uint8Array(await file.slice(0, 65_536).arrayBuffer());
      const data = await readJson(file, encodingOf(head, file.size <= head.length) ?? 'utf-8');
      if (!data.ok) return data;
      const list = listAt(data.value, format.path);
      if (!list) return refuse(`There is no list at “${format.path || 'the top'}” of this JSON any more.`);
      if (list.length > MOST_ROWS)
        return refuse(`The list has ${list.length} records, up to ${MOST_ROWS} are read.`);
      const records = list.map((r) => {
        const flat = new Map<string, string>();
        flatten(r, flat);
        return flat;
      });
      const header = headerOf(records);
      return fromRows(
        header,
        records.map((r) => cellsOf(r, header)),
        records.map((_, i) => i + 1),
      );
    }
    case 'xml': {
      const head = new TextDecoder().decode(await file.slice(0, 200).arrayBuffer());
      const bytes = new Uint8Array(await file.slice(0, 65_536).arrayBuffer());
      const encoding = xmlEncoding(
        head.replace(/^﻿/, ''),
        encodingOf(bytes, file.size <= bytes.length) ?? 'utf-8',
      );
      const read = await recordsOfXml(file, encoding, format.path, MOST_ROWS);
      if (!read.ok) return read;
      if (!read.value.records.length)
        return refuse(`There is no element “${format.path}” in this XML any more.`);
      const header = headerOf(read.value.records);
      return fromRows(
        header,
        read.value.records.map((r) => cellsOf(r, header)),
        read.value.lines,
        read.value.cut,
      );
    }
  }
}

/** Makes the cells of a part, some at a time and in order. */
export function* readPart(part: Part): Generator<readonly (readonly string[])[]> {
  if (part.kind === 'cells') yield part.rows;
  else yield* readText(part);
}

/** The cells of all records of a batch. */
export const rowsOf = (batch: Batch): (readonly string[])[] =>
  [...readPart(batch.part(Int32Array.from(batch.lines, (_, k) => k)))].flat();
