import { formatMinor, formatRate, type Parsed, parseMinor, parseRate, WHOLE } from '../money';
import type { FeeBand } from './fee';
import type { FeeRule } from './fees';

const no = (reason: string) => ({ ok: false, reason }) as const;

/** `12 % to 50.00, 9 %`: shares of the part of a price up to an amount, the last without an end. */
export function parseFeeBands(text: string, currency: string): Parsed<FeeBand[]> {
  const bands: FeeBand[] = [];
  const parts = text
    .split(/;|,\s+/)
    .map((p) => p.trim())
    .filter(Boolean);
  for (const [at, part] of parts.entries()) {
    const [, share = '', upTo = ''] = /^([^%]+%?)\s*(?:(?:up )?to\s+(.+)|above)?$/i.exec(part) ?? [];
    const rate = parseRate(share);
    if (!rate.ok || rate.value < 0 || rate.value > WHOLE)
      return no(`“${part}” is no share: write 12 %, or 12 % to 50.00, 9 %.`);
    const last = at === parts.length - 1;
    if (last && upTo) return no('The last share has no end: write 12 % to 50.00, 9 %.');
    if (!last && !upTo) return no(`“${part}” says no amount up to which it holds.`);
    const amount = upTo ? parseMinor(upTo, currency) : null;
    if (amount && !amount.ok) return amount;
    const end = amount?.value ?? null;
    const before = bands.at(-1)?.upTo ?? 0;
    if (end !== null && end <= before) return no(`“${part}”: amounts rise from share to share.`);
    bands.push({ upTo: end, rate: rate.value });
  }
  return bands.length ? { ok: true, value: bands } : no('Write a share, such as 12 %.');
}

export const feeBandsInWords = (bands: readonly FeeBand[], currency: string): string =>
  bands
    .map((b) => formatRate(b.rate) + (b.upTo === null ? '' : ` to ${formatMinor(b.upTo, currency)}`))
    .join(', ');

/**
 * Shares by category, a line for each: `Optics: 12 % to 50.00, 9 %`; a line without a category, or `elsewhere`, holds for all
 * others. Empty for none.
 */
export function parseFeeShares(
  text: string,
  currency: string,
  categories: readonly { readonly id: string; readonly name: string }[],
): Parsed<FeeRule['bands']> {
  const shares: Record<string, readonly FeeBand[]> = {};
  for (const line of text
    .split('\n')
    .map((one) => one.trim())
    .filter(Boolean)) {
    const [, where = '', bands = ''] = /^(?:([^:%]+):)?\s*(.+)$/.exec(line) ?? [];
    const meant = where.trim().toLowerCase();
    const found = categories.find((c) => c.name.toLowerCase() === meant || c.id.toLowerCase() === meant);
    if (meant && meant !== 'elsewhere' && !found) return no(`There is no category “${where.trim()}”.`);
    const read = parseFeeBands(bands, currency);
    if (!read.ok) return read;
    const id = found?.id ?? '*';
    if (Object.hasOwn(shares, id)) return no(`“${where.trim() || 'elsewhere'}” stands there twice.`);
    shares[id] = read.value;
  }
  return { ok: true, value: shares };
}

export function feeSharesInWords(
  { bands }: Pick<FeeRule, 'bands'>,
  currency: string,
  categories: readonly { readonly id: string; readonly name: string }[],
): string {
  const all = Object.entries(bands);
  const nameOf = (id: string) => categories.find((c) => c.id === id)?.name ?? id;
  const line = (id: string) => (id === '*' ? (all.length > 1 ? 'elsewhere: ' : '') : `${nameOf(id)}: `);
  return all.map(([id, own]) => line(id) + feeBandsInWords(own, currency)).join('\n');
}
