import { SaxesParser } from 'saxes';
import { DEEPEST, MOST_CELLS, MOST_COLUMNS, type Opened, refuse, tooWide } from './source';

const SLICE = 1_000_000;
/** Different paths that are counted before one is chosen. */
const MOST_PATHS = 2_000;
const LONGEST_TEXT = 100_000;

/** Thrown out of the parser, so that it stops at once instead of at the end of what it was given. */
class Enough extends Error {}

/** An element as it is gathered: its own text, attributes and children by name. */
interface Open {
  readonly name: string;
  readonly path: string;
  readonly record: Map<string, string> | null;
  readonly below: string;
  text: string;
  readonly counts: Map<string, number>;
}

/**
 * Reads XML as it comes: elements at a path become flat records, attributes as `@name`, repeated children as
 * `name/2`. No document type is followed and no entity but the five of XML is known, so that nothing can be
 * blown up or fetched.
 * @param tell hears each record and the line it begins at; gives back false to stop
 */
async function readXml(
  blob: Blob,
  encoding: string,
  path: string | null,
  tell: (record: Map<string, string>, line: number) => boolean,
  seen?: Map<string, { count: number; children: number }>,
  atMost = Number.POSITIVE_INFINITY,
): Promise<Opened<'whole' | 'cut'>> {
  const parser = new SaxesParser();
  const stack: Open[] = [];
  let wrong: string | null = null;
  /** A limit that is passed, in words of its own. */
  let limit: string | null = null;
  let stopped = false;
  let line = 1;
  let cells = 0;
  const refuseAt = (why: string): never => {
    limit ??= why;
    throw new Enough();
  };
  parser.on('error', (error) => {
    wrong ??= error.message.replace(/^\d+:\d+: /, `line ${parser.line}: `);
  });
  parser.on('doctype', (doctype) => {
    if (/<!ENTITY|SYSTEM|PUBLIC/i.test(doctype))
      wrong ??=
        'it declares entities of its own, which are not followed: ask the supplier for the plain list';
  });
  parser.on('opentag', (tag) => {
    if (stack.length >= DEEPEST)
      refuseAt(
        `Its elements lie more than ${DEEPEST} deep in each other; lists of up to ${DEEPEST} levels are read.`,
      );
    const above = stack.at(-1);
    const name = tag.name.includes(':') ? tag.name.slice(tag.name.indexOf(':') + 1) : tag.name;
    const own = above ? `${above.path}/${name}` : name;
    if (seen) {
      const known = seen.get(own) ?? { count: 0, children: 0 };
      if (seen.size > MOST_PATHS)
        refuseAt(`It has more than ${MOST_PATHS} different kinds of elements: this is no list.`);
      seen.set(own, { ...known, count: known.count + 1 });
      const parent = above && seen.get(above.path);
      if (parent) seen.set(above.path, { ...parent, children: parent.children + 1 });
    }
    let record = above?.record ?? null;
    let below = '';
    if (record && above) {
      const nth = (above.counts.get(name) ?? 0) + 1;
      above.counts.set(name, nth);
      below = `${above.below ? `${above.below}/` : ''}${name}${nth > 1 ? `/${nth}` : ''}`;
    } else if (own === path) {
      record = new Map();
      line = parser.line;
    }
    if (record) {
      for (const [key, value] of Object.entries(tag.attributes as Record<string, string>))
        record.set(`${below ? `${below}/` : ''}@${key}`, value);
      if (record.size > MOST_COLUMNS) refuseAt(tooWide(record.size));
    }
    stack.push({ name, path: own, record, below, text: '', counts: new Map() });
  });
  const text = (t: string) => {
    const top = stack.at(-1);
    if (top?.record && top.text.length < LONGEST_TEXT) top.text += t;
  };
  parser.on('text', text);
  parser.on('cdata', text);
  parser.on('closetag', () => {
    const top = stack.pop();
    if (!top?.record) return;
    if (++cells > MOST_CELLS)
      refuseAt(`It has more than ${MOST_CELLS / 1_000_000} million values; lists of up to that are read.`);
    const plain = top.text.trim();
    if (top.path === path) {
      if (plain) top.record.set('value', plain);
      if (!tell(top.record, line)) {
        stopped = true;
        throw new Enough();
      }
    } else if (plain || top.counts.size === 0) top.record.set(top.below, plain);
  });
  const decoder = new TextDecoder(encoding);
  const end = Math.min(blob.size, atMost);
  for (let at = 0; at < end && !stopped && !wrong; at += SLICE) {
    const piece = decoder.decode(await blob.slice(at, Math.min(at + SLICE, end)).arrayBuffer(), {
      stream: at + SLICE < blob.size,
    });
    try {
      parser.write(at === 0 ? piece.replace(/^﻿/, '') : piece);
      if (end < blob.size || at + SLICE < end || wrong) continue;
      parser.close();
      // An error at the very end is an end that is missing.
      if (wrong) return { ok: true, value: 'cut' };
    } catch (error) {
      if (!(error instanceof Enough)) throw error;
      if (limit) return refuse(limit);
    }
  }
  return wrong && !stopped ? refuse(`The XML cannot be read: ${wrong}.`) : { ok: true, value: 'whole' };
}

/**
 * Paths of elements that repeat and hold others or attributes, the most frequent first. Looks at the first
 * megabytes.
 */
export async function repeatingInXml(
  blob: Blob,
  encoding: string,
): Promise<Opened<{ path: string; count: number }[]>> {
  const seen = new Map<string, { count: number; children: number }>();
  const read = await readXml(blob, encoding, null, () => true, seen, 3_000_000);
  if (!read.ok) return read;
  const found = [...seen]
    .filter(([, s]) => s.count > 1 && s.children >= s.count)
    .map(([path, s]) => ({ path, count: s.count }));
  // Of elements in each other the outer one is the record: parts of it repeat, too.
  const outer = found.filter((f) => !found.some((o) => f.path.startsWith(`${o.path}/`)));
  return { ok: true, value: outer.sort((a, b) => b.count - a.count) };
}

/** All records at a path, with the lines they begin at. */
export async function recordsOfXml(
  blob: Blob,
  encoding: string,
  path: string,
  atMost: number,
): Promise<Opened<{ records: Map<string, string>[]; lines: number[]; cut: boolean }>> {
  const records: Map<string, string>[] = [];
  const lines: number[] = [];
  const read = await readXml(blob, encoding, path, (record, line) => {
    records.push(record);
    lines.push(line);
    return records.length < atMost;
  });
  if (read.ok) return { ok: true, value: { records, lines, cut: read.value === 'cut' } };
  return records.length ? refuse(`${read.reason} ${records.length} records before it are whole.`) : read;
}
