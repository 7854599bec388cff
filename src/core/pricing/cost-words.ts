import { formatMinor, formatRate, type Parsed, parseMinor, parseRate, WHOLE } from '../money';
import type { Buyers, ImportRule, QuantityDiscount, QuantityPrice, ShippingZone } from './landed';
import { parseShipping, shippingInWords } from './shipping';

const no = (reason: string) => ({ ok: false, reason }) as const;

const linesOf = (text: string) =>
  text
    .split('\n')
    .map((line) => line.trim())
    .filter(Boolean);

/** Each line by itself; the first that cannot be read says which it is. */
function readLines<T>(text: string, read: (line: string) => Parsed<T>): Parsed<T[]> {
  const all: T[] = [];
  for (const [at, line] of linesOf(text).entries()) {
    const one = read(line);
    if (!one.ok) return no(`Line ${at + 1}: ${one.reason}`);
    all.push(one.value);
  }
  return { ok: true, value: all };
}

/** `GB, IE` at the beginning of a line, and what is left of it. */
function readCountries(line: string): { countries: string[]; rest: string } | null {
  const [, codes = '', rest = ''] = /^([A-Z]{2}(?:\s*,\s*[A-Z]{2})*)\b(.*)$/i.exec(line) ?? [];
  const countries = [...new Set(codes.toUpperCase().match(/[A-Z]{2}/g) ?? [])];
  return countries.length ? { countries, rest } : null;
}

/** A line for each zone: `DE, FR express: 2 kg: 9.50, 30 kg: 24.00`. */
export const parseZones = (text: string, currency: string): Parsed<ShippingZone[]> =>
  readLines(text, (line) => {
    const found = readCountries(line);
    const [, service = '', bands = ''] = /^\s*([^:]*?)\s*:\s*(.+)$/.exec(found?.rest ?? '') ?? [];
    if (!found || !bands)
      return no(`“${line}” is no zone: write countries and what a parcel costs, such as DE, FR: 2 kg: 9.50.`);
    const read = parseShipping(bands, currency);
    return read.ok ? { ok: true, value: { countries: found.countries, service, bands: read.value } } : read;
  });

export const zonesInWords = (zones: readonly ShippingZone[], currency: string): string =>
  zones
    .map(
      ({ countries, service, bands }) =>
        `${countries.join(', ')}${service && ` ${service}`}: ${shippingInWords(bands, currency)}`,
    )
    .join('\n');

/** `10: 5 %, 50: 8 %`: from so many on so much less. */
export function parseDiscounts(text: string): Parsed<QuantityDiscount[]> {
  const discounts: QuantityDiscount[] = [];
  for (const part of text
    .split(/[;\n]|,\s+/)
    .map((p) => p.trim())
    .filter(Boolean)) {
    const [, from = '', off = ''] = /^(\d{1,6})\s*:\s*(.+)$/.exec(part) ?? [];
    const rate = off ? parseRate(off) : no('');
    if (!rate.ok || rate.value <= 0 || rate.value >= WHOLE || Number(from) < 2)
      return no(`“${part}” is no discount: write from how many units on and how much less, such as 10: 5 %.`);
    discounts.push({ from: Number(from), off: rate.value });
  }
  return { ok: true, value: discounts.sort((a, b) => a.from - b.from) };
}

export const discountsInWords = (discounts: readonly QuantityDiscount[]): string =>
  discounts.map(({ from, off }) => `${from}: ${formatRate(off)}`).join(', ');

/** A line for each item, by SKU: `BW-010021: 10: 3.20, 50: 2.90`. */
export function parseItemPrices(
  text: string,
  currency: string,
): Parsed<Record<string, readonly QuantityPrice[]>> {
  const known = new Set<string>();
  const read = readLines(text, (line) => {
    const [, sku = '', steps = ''] = /^(\S+?)\s*:\s+(.+)$/.exec(line) ?? [];
    const prices: QuantityPrice[] = [];
    for (const part of steps
      .split(/;|,\s+|,$/)
      .map((p) => p.trim())
      .filter(Boolean)) {
      const [, from = '', amount = ''] = /^(\d{1,6})\s*:\s*(.+)$/.exec(part) ?? [];
      const minor = amount ? parseMinor(amount, currency) : no('');
      if (!minor.ok || minor.value < 0 || Number(from) < 2)
        return no(
          `“${part}” is no price: write from how many units on and what each costs, such as 10: 3.20.`,
        );
      prices.push({ from: Number(from), price: minor.value });
    }
    if (!prices.length)
      return no(`“${line}”: write the SKU, then from how many units on what each costs: AB-1: 10: 3.20.`);
    if (known.has(sku)) return no(`${sku} stands there twice.`);
    known.add(sku);
    return { ok: true, value: [sku, prices.sort((a, b) => a.from - b.from)] as const };
  });
  return read.ok ? { ok: true, value: Object.fromEntries(read.value) } : read;
}

export const itemPricesInWords = (
  items: Readonly<Record<string, readonly QuantityPrice[]>>,
  currency: string,
): string =>
  Object.entries(items)
    .map(
      ([sku, prices]) =>
        `${sku}: ${prices.map(({ from, price }) => `${from}: ${formatMinor(price, currency)}`).join(', ')}`,
    )
    .join('\n');

/** A line for each border: `US: duty 4 %, tax 8 %, reclaimed, free up to 800.00`. */
export const parseImports = (text: string, currency: string): Parsed<ImportRule[]> =>
  readLines(text, (line) => {
    const found = readCountries(line);
    const rest = found?.rest.replace(/^\s*:/, '') ?? '';
    if (!found || !rest.trim())
      return no(`“${line}” is no import: write countries, duty and tax, such as US: duty 4 %, tax 8 %.`);
    let rule: ImportRule = { countries: found.countries, duty: 0, tax: 0, reclaimed: false, freeUpTo: 0 };
    for (const part of rest
      .split(/;|,\s+|,$/)
      .map((p) => p.trim())
      .filter(Boolean)) {
      const [, what = '', amount = ''] = /^(duty|tax|free(?: up to)?|reclaimed)\s*(.*)$/i.exec(part) ?? [];
      const kind = what.toLowerCase();
      if (kind === 'reclaimed' && !amount) rule = { ...rule, reclaimed: true };
      else if (kind === 'duty' || kind === 'tax') {
        const rate = parseRate(amount);
        if (!rate.ok || rate.value < 0 || rate.value > WHOLE)
          return no(`“${part}”: write the share, such as duty 4 %.`);
        rule = { ...rule, [kind]: rate.value };
      } else if (kind.startsWith('free')) {
        const minor = parseMinor(amount, currency);
        if (!minor.ok || minor.value < 0) return no(`“${part}”: write an amount, such as free up to 800.`);
        rule = { ...rule, freeUpTo: minor.value };
      } else return no(`“${part}” is none of duty, tax, reclaimed, free up to.`);
    }
    return { ok: true, value: rule };
  });

export const importsInWords = (imports: readonly ImportRule[], currency: string): string =>
  imports
    .map(
      ({ countries, duty, tax, reclaimed, freeUpTo }) =>
        `${countries.join(', ')}: duty ${formatRate(duty)}, tax ${formatRate(tax)}${reclaimed ? ', reclaimed' : ''}${freeUpTo ? `, free up to ${formatMinor(freeUpTo, currency)}` : ''}`,
    )
    .join('\n');

/** `GB 80 %, IE 20 %`; shares that do not make a whole are taken in proportion. */
export function parseBuyers(text: string): Parsed<Buyers> {
  const buyers: { country: string; share: number }[] = [];
  for (const part of text
    .split(/[;\n]|,\s+/)
    .map((p) => p.trim())
    .filter(Boolean)) {
    const [, country = '', amount = ''] = /^([A-Z]{2})\s*:?\s*(.*)$/i.exec(part) ?? [];
    const share = amount ? parseRate(amount) : ({ ok: true, value: WHOLE } as const);
    const code = country.toUpperCase();
    if (!country || !share.ok || share.value <= 0 || share.value > WHOLE)
      return no(`“${part}” is no country with its share: write GB 80 %, IE 20 %.`);
    if (buyers.some((b) => b.country === code)) return no(`${code} stands there twice.`);
    buyers.push({ country: code, share: share.value });
  }
  return { ok: true, value: buyers };
}

export const buyersInWords = (buyers: Buyers): string =>
  buyers.length === 1
    ? buyers[0]!.country
    : buyers.map(({ country, share }) => `${country} ${formatRate(share)}`).join(', ');
