import { makeCatalogue } from './brackwater';
import type { StockedItem } from './item';

/** The goods that Quillmere has of what Brackwater lists; it has no others. */
const HAS =
  /torch|planisphere|dew|chair|desiccant|lens cap|atlas|flask|blanket|filter|glove|lantern|compass/i;

/** Brackwater's items that are looked through, and how many Quillmere has at most. */
const AMONG = 2400;
const MOST = 400;

/** A number from 0 to 99 that a SKU always has. */
const share = (sku: string, salt: number): number => {
  let n = salt;
  for (const letter of sku) n = (n * 31 + letter.charCodeAt(0)) % 9973;
  return n % 100;
};

/** Quillmere's goods: some of Brackwater's, by their barcodes, at costs, stock and days of its own. */
export function makeGoods(seed: number): StockedItem[] {
  const known = makeCatalogue(seed, AMONG).filter((i) => i.gtin && HAS.test(i.title) && share(i.sku, 7) < 70);
  return known.slice(0, MOST).map(({ group: _group, ...item }, k) => ({
    ...item,
    sku: `QM-${item.sku.slice(3)}`,
    cost: Math.max(1, Math.round((item.cost * (88 + (share(item.sku, 3) % 28))) / 100)),
    stock: share(item.sku, 11) < 8 ? 0 : 2 + (share(item.sku, 5) % 60),
    shipsFrom: 'Norwich',
    dispatchDays: k % 4 === 0 ? 2 : 1,
    pictures: item.pictures.map((name) => name.replace('/BW-', '/QM-')),
  }));
}
