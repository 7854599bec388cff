import { decimalOf, type Parsed } from '../money';
import { readAmount, readGtin, readStock, readWeight, unwrapCell } from './cells';
import { FIELD_WORDS, type Match } from './match';
import { netEach } from './row';

/**
 * Names what a field reads as, for the picture of the first rows: what a cell means under a match, or why it
 * cannot be read.
 */
export function cellInWords(
  match: Match,
  column: number,
  text: string,
): { ok: boolean; says: string } | null {
  const field = match.fields[column];
  const t = unwrapCell(text);
  if (!field || !t) return null;
  const answer = (p: Parsed<number>, write: (n: number) => string) =>
    p.ok ? { ok: true, says: write(p.value) } : { ok: false, says: p.reason };
  const money = (n: number) => `${decimalOf(n, match.currency)} ${match.currency}`;
  switch (field) {
    case 'cost':
      return answer(readAmount(t, match.decimal, match.currency), (n) =>
        money(netEach(n, match, match.pack)),
      );
    case 'msrp':
    case 'map':
    case 'price':
      return answer(readAmount(t, match.decimal, match.currency), money);
    case 'stock':
      return answer(readStock(t, match.someStock), (n) => `${n}`);
    case 'weight':
      return answer(readWeight(t, match.weightUnit), (n) => `${n} g`);
    case 'gtin': {
      const read = readGtin(t);
      return read.ok ? { ok: true, says: read.value ?? 'none' } : { ok: false, says: read.reason };
    }
    default:
      return { ok: true, says: FIELD_WORDS[field] };
  }
}
