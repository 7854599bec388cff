import { deflateSync, inflateSync, strFromU8, strToU8 } from 'fflate';
import type { Buyer } from '../core/orders';
import type { ArchivedRows, WholeOrder } from './orders';

/** Rows as JSON texts end to end, packed. @param id the block's */
export function packRows(id: string, rows: readonly unknown[]): ArchivedRows {
  const texts = rows.map((row) => strToU8(JSON.stringify(row)));
  const ends = new Int32Array(texts.length);
  const all = new Uint8Array(texts.reduce((n, t) => n + t.length, 0));
  let at = 0;
  for (const [i, text] of texts.entries()) {
    all.set(text, at);
    at += text.length;
    ends[i] = at;
  }
  return { id, packed: deflateSync(all, { level: 4 }), ends };
}

/** Some of the rows of a block, by their places. Cost: the block is unpacked, some milliseconds. */
export function unpackRows<T>({ packed, ends }: ArchivedRows, places: readonly number[]): T[] {
  const all = inflateSync(packed);
  return places.map((i) => JSON.parse(strFromU8(all.subarray(i ? ends[i - 1]! : 0, ends[i]!))) as T);
}

/** Orders of a block as they are laid away: their buyers by themselves, so that these are erased without the rest. */
export function packOrders(id: string, whole: readonly WholeOrder[]) {
  return {
    rows: packRows(
      id,
      whole.map(({ buyer, ...rest }) => rest),
    ),
    buyers: packRows(
      id,
      whole.map((w) => w.buyer),
    ),
  };
}

/** Orders of a block with their buyers, by their places. */
export const unpackOrders = (
  rows: ArchivedRows,
  buyers: ArchivedRows,
  places: readonly number[],
): WholeOrder[] => {
  const own = unpackRows<Buyer>(buyers, places);
  return unpackRows<Omit<WholeOrder, 'buyer'>>(rows, places).map((w, k) => ({ ...w, buyer: own[k]! }));
};
