import { transfer } from 'comlink';
import { type FoundText, TextFinder, type TextList } from '../../connect/lists';
import type { ItemsRead } from '../context/list-helpers';
import { readItems } from './items';

/** A text whose records are being found, and how far; several lists may be read by turns. */
interface Finding {
  readonly finder: TextFinder;
  place: string | null;
  /** The answer before: one after the other, however many are asked for. */
  before: Promise<unknown>;
}
const findings = new Map<number, Finding>();

async function findNext(id: number, own: Finding): Promise<FoundText | null> {
  if (own.place === null) return null;
  const found = await own.finder.next(own.place);
  own.place = found.next;
  if (found.next === null) findings.delete(id);
  const { bytes, starts, ends, lines, marks } = found;
  return transfer(
    found,
    [bytes, starts, ends, lines, marks].map((a) => a.buffer),
  );
}

/** A helper that reads parts of price lists, or finds their records; the runner merges what it makes. */
export const helperApi = {
  /** The next records of a text, which is given with the first question; null behind its end. */
  find(
    id: number,
    begin: { readonly list: TextList; readonly place: string } | null,
  ): Promise<FoundText | null> {
    if (begin)
      findings.set(id, { finder: new TextFinder(begin.list), place: begin.place, before: Promise.resolve() });
    const own = findings.get(id);
    if (!own) return Promise.resolve(null);
    const found = own.before.then(() => findNext(id, own));
    own.before = found.catch(() => {});
    return found;
  },
  read(...of: Parameters<typeof readItems>): ItemsRead {
    const made = readItems(...of);
    const buffers = new Set<ArrayBufferLike>();
    for (const { sheet, lines } of made.sheets) {
      const { piece, cold } = sheet;
      const { rows, gtin, words, wordEnds, marks } = piece;
      const texts = [piece.sku.ends, piece.title.ends, piece.group.ends];
      const long = [cold.description.bytes, cold.description.ends, cold.pictures.bytes, cold.pictures.ends];
      const columns = [
        lines,
        sheet.skuHashes,
        rows,
        gtin,
        words,
        wordEnds,
        marks,
        piece.cold,
        ...Object.values(piece.numbers),
        ...Object.values(piece.codes),
      ];
      for (const { buffer } of [...columns, ...texts, ...long]) buffers.add(buffer);
    }
    return transfer(made, [...buffers] as ArrayBuffer[]);
  },
};

export type HelperApi = typeof helperApi;
