import { itemsOf, onWire, openWarehouse } from '../stand-ins/supplier/warehouse';

const cell = (text: string) => (/[",\n]/.test(text) ? `"${text.replaceAll('"', '""')}"` : text);
const HEADER =
  'SKU,Group,Barcode,Title,Brand,Category,Colour,Size,Cost GBP,MAP,MSRP,Stock,Weight g,Ships from,Picture,Description';
const PROSE =
  'Made for long nights outside: tested in dew and frost, with a two year guarantee. Packed in plain card, without plastic, and sent by the next working day from our own store. ';

/** A price list of `n` items, about 500 bytes each; of every `share`-th item cost and stock have moved. */
export function makeList(n: number, prefix: string, moved = 0): Blob {
  const parts: BlobPart[] = [`${HEADER}\n`];
  let lines: string[] = [];
  let k = 0;
  for (const i of itemsOf(openWarehouse(1847, n)).values()) {
    const w = onWire(i);
    const move = moved > 0 && k % moved === 0;
    lines.push(
      [
        w.sku.replace('BW', prefix),
        w.group ?? '',
        w.gtin ?? '',
        w.title,
        w.brand,
        w.category,
        w.options?.Colour ?? '',
        w.options?.Size ?? '',
        move ? (Number(w.cost) + 0.37).toFixed(2) : w.cost,
        w.map ?? '',
        w.msrp ?? '',
        String(move ? w.stock + 3 : w.stock),
        String(w.grams),
        w.shipsFrom ?? '',
        `https://pictures.example/${w.sku}.jpg`,
        `${w.description} ${PROSE}${PROSE.slice(0, k % 120)}`,
      ]
        .map(cell)
        .join(','),
    );
    if (++k % 5000 === 0) {
      parts.push(`${lines.join('\n')}\n`);
      lines = [];
    }
  }
  if (lines.length) parts.push(`${lines.join('\n')}\n`);
  return new Blob(parts, { type: 'text/csv' });
}
