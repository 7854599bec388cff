import { SaxesParser } from 'saxes';
import { type Opened, refuse } from './source';

const SLICE = 1_000_000;
const DEEPEST = 64;

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
 * Reads XML as it comes: elements at a path become flat records, attributes as `@name`, repeated children as `name/2`. No document type is followed and no
 * entity but the five of XML is known, so that nothing can be blown up or fetched.
 * @param tell hears each record and the line it begins at; gives back false to stop
 */
async function readXml(
  blob: Blob,
  encoding: string,
  path: string | null,
  tell: (record: Map<string, string>, line: number) => boolean,
  seen?: Map<string, { count: number; children: number }>,
  atMost = Number.POSITIVE_INFINITY,
): Promise<Opened<null>> {
  const parser = new SaxesParser();
  const stack: Open[] = [];
  let wrong: string | null = null;
  let stopped = false;
  let line = 1;
  parser.on('error', (error) => {
    wrong ??= error.message.replace(/^\d+:\d+: /, `line ${parser.line}: `);
  });
  parser.on('doctype', (doctype) => {
    if (/<!ENTITY|SYSTEM|PUBLIC/i.test(doctype))
      wrong ??= 'it declares entities of its own, which are not followed: ask the supplier for the plain list';
  });
  parser.on('opentag', (tag) => {
    if (stack.length > DEEPEST) wrong ??= `elements lie more than ${DEEPEST} deep in each other`;
    const above = stack.at(-1);
    const name = tag.name.includes(':') ? tag.name.slice(tag.name.indexOf(':') + 1) : tag.name;
    const own = above ? `${above.path}/${name}` : name;
    if (seen) {
      const known = seen.get(own) ?? { count: 0, children: 0 };
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
    if (record)
      for (const [key, value] of Object.entries(tag.attributes as Record<string, string>)) record.set(`${below ? `${below}/` : ''}@${key}`, value);
    stack.push({ name, path: own, record, below, text: '', counts: new Map() });
  });
  const text = (t: string) => {
    const top = stack.at(-1);
    if (top?.record && top.text.length < 100_000) top.text += t;
  };
  parser.on('text', text);
  parser.on('cdata', text);
  parser.on('closetag', () => {
    const top = stack.pop();
    if (!top?.record) return;
    const plain = top.text.trim();
    if (top.path === path) {
      if (plain) top.record.set('value', plain);
      if (!stopped && !tell(top.record, line)) stopped = true;
    } else if (plain || top.counts.size === 0) top.record.set(top.below, plain);
  });
  const decoder = new TextDecoder(encoding);
  const end = Math.min(blob.size, atMost);
  for (let at = 0; at < end && !stopped && !wrong; at += SLICE) {
    const piece = decoder.decode(await blob.slice(at, Math.min(at + SLICE, end)).arrayBuffer(), { stream: at + SLICE < blob.size });
    parser.write(at === 0 ? piece.replace(/^﻿/, '') : piece);
  }
  if (!wrong && !stopped && end === blob.size) parser.close();
  return wrong && !stopped ? refuse(`The XML cannot be read: ${wrong}.`) : { ok: true, value: null };
}

/** Paths of elements that repeat and hold others or attributes, the most frequent first. Looks at the first megabytes. */
export async function repeatingInXml(blob: Blob, encoding: string): Promise<Opened<{ path: string; count: number }[]>> {
  const seen = new Map<string, { count: number; children: number }>();
  const read = await readXml(blob, encoding, null, () => true, seen, 3_000_000);
  if (!read.ok) return read;
  const found = [...seen].filter(([, s]) => s.count > 1 && s.children >= s.count).map(([path, s]) => ({ path, count: s.count }));
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
): Promise<Opened<{ records: Map<string, string>[]; lines: number[] }>> {
  const records: Map<string, string>[] = [];
  const lines: number[] = [];
  const read = await readXml(blob, encoding, path, (record, line) => {
    records.push(record);
    lines.push(line);
    return records.length < atMost;
  });
  // What was read before the place where it breaks off is good.
  return read.ok || records.length === 0
    ? read.ok
      ? { ok: true, value: { records, lines } }
      : read
    : refuse(`${(read as { reason: string }).reason} ${records.length} records before it are whole.`);
}
