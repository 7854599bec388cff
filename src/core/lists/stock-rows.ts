import { readAmount, readGtin, readStock } from './cells';
import type { Match } from './match';
import { netEach, placeOf, Row, type RowRefusal } from './row';
import { lostSku, skuIn } from './sku-cell';

/** A row of a list of stock: which item, by SKU or barcode, and what of it is new. */
export type StockRead =
  | {
      readonly ok: true;
      readonly sku: string | null;
      readonly gtin: string | null;
      readonly stock: number | null;
      readonly cost: number | null;
    }
  | RowRefusal;

/** The reader of a list of stock: SKU or barcode, stock, perhaps cost. */
export function stockReader(match: Match): (cells: readonly string[]) => StockRead {
  const at = {
    sku: placeOf(match, 'sku'),
    gtin: placeOf(match, 'gtin'),
    stock: placeOf(match, 'stock'),
    cost: placeOf(match, 'cost'),
    pack: placeOf(match, 'pack'),
  };
  const row = new Row(match);
  return (cells) => {
    row.take(cells);
    const sku = skuIn(row.text(at.sku)) || null;
    const lost = sku ? lostSku(sku) : null;
    if (lost) return row.wrong(at.sku, lost);
    const gtin = at.gtin < 0 ? { ok: true as const, value: null } : readGtin(row.text(at.gtin));
    if (!sku && !gtin.ok) return row.wrong(at.gtin, gtin.reason);
    const barcode = gtin.ok ? gtin.value : null;
    if (!sku && !barcode) return row.wrong(at.sku < 0 ? at.gtin : at.sku, 'neither SKU nor barcode');
    const stock = at.stock < 0 ? null : readStock(row.text(at.stock), match.someStock);
    if (stock && !stock.ok) return row.wrong(at.stock, `the stock ${stock.reason}`);
    const paid = row.text(at.cost);
    const cost = paid ? readAmount(paid, match.decimal, match.currency) : null;
    if (cost && !cost.ok) return row.wrong(at.cost, `the cost ${cost.reason}`);
    const pack = Number(row.text(at.pack)) >= 1 ? Math.trunc(Number(row.text(at.pack))) : match.pack;
    const each = cost === null ? null : netEach(cost.value, match, pack);
    if (each === 0) return row.wrong(at.cost, 'a cost of 0 cannot be right');
    return { ok: true, sku, gtin: barcode, stock: stock?.value ?? null, cost: each };
  };
}
