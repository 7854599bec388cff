import { digitsOf, divideUp, LARGEST_MINOR, type Parsed } from '../money';
import { isGtin } from '../units';
import type { WeightUnit } from './match';

/**
 * Text as a spreadsheet may have wrapped it: `="0012"` is 0012; anything else that begins with = stays text
 * and is never worked out.
 */
export function unwrapCell(text: string): string {
  const first = text.charCodeAt(0);
  const last = text.charCodeAt(text.length - 1);
  if (first > 61 && last > 32 && last < 160) return text;
  if (first > 39 && first < 61 && last > 32 && last < 160) return text;
  const t = text.trim();
  return t.startsWith('="') && t.endsWith('"') && t.length > 2
    ? t.slice(2, -1)
    : /^'[=+\-@]/.test(t)
      ? t.slice(1)
      : t;
}

/** Whether a text is what a spreadsheet makes of a long number: `4.0E+12`. */
export const isShortForm = (text: string): boolean => /^\d+(?:[.,]\d+)?e[+-]?\d+$/i.test(text);

/** What people write for a currency besides its code. A sign may be that of several. */
const MARKS: Readonly<Record<string, readonly string[]>> = {
  '£': ['GBP'],
  '€': ['EUR'],
  $: ['USD', 'CAD', 'AUD', 'NZD', 'SGD', 'HKD', 'MXN'],
  US$: ['USD'],
  '¥': ['JPY', 'CNY'],
  ZŁ: ['PLN'],
  KR: ['SEK', 'NOK', 'DKK', 'ISK'],
  'KR.': ['DKK'],
  FR: ['CHF'],
  'FR.': ['CHF'],
  SFR: ['CHF'],
  KČ: ['CZK'],
  FT: ['HUF'],
};
/** Codes of ISO 4217 that lists come in: other three letters beside a number are no currency. */
const CODES = new Set(
  'GBP,EUR,USD,PLN,CHF,SEK,NOK,DKK,CZK,HUF,RON,BGN,ISK,TRY,UAH,JPY,CNY,CAD,AUD,NZD,SGD,HKD,MXN,BRL,INR,KRW,ZAR,KWD,BHD,AED,ILS,THB'.split(
    ',',
  ),
);
/** An amount with all it may be written with has fewer characters. */
const LONGEST_AMOUNT = 60;

/**
 * What is wrong with the unit beside an amount: another currency than the list's, or none at all; null where
 * nothing is.
 */
function unitProblem(mark: string, currency: string | null): string | null {
  const unit = mark.toUpperCase();
  const meant = Object.hasOwn(MARKS, unit)
    ? MARKS[unit]!
    : CODES.has(unit) || unit === currency
      ? [unit]
      : [];
  if (!meant.length) return 'is not an amount';
  return currency === null || meant.includes(currency) ? null : `is in ${meant[0]}, the list in ${currency}`;
}

/**
 * An amount as lists write it: `12.50`, `1.299,00 €`, `12,5`, `EUR 3.20`. More digits than the currency has
 * are rounded up, so that a cost is never told too low. Marks of thousands must stand where they belong.
 * @param currency the list's: an amount in another is refused; null takes any, for a look at what a column
 *   may be
 */
export function readAmount(text: string, decimal: '.' | ',', currency: string | null): Parsed<number> {
  const digits = currency === null ? 2 : digitsOf(currency);
  if (digits === 2 && decimal === '.' && /^\d{1,7}\.\d\d$/.test(text))
    return { ok: true, value: Number(text.slice(0, -3) + text.slice(-2)) };
  if (text.length > LONGEST_AMOUNT)
    return { ok: false, reason: `“${text.trim().slice(0, 40)}…” is not an amount` };
  const bare = text.replace(/[\s\u00a0\u202f\u2009']/g, '').replace('−', '-');
  const [, before = '', number = '', behind = ''] = /^([^\d.,-]*)(-?[\d.,]*(?:e[+-]?\d+)?)([^\d]*)$/i.exec(
    bare,
  ) ?? ['', '', bare, ''];
  for (const mark of [before, behind]) {
    const problem = mark && unitProblem(mark, currency);
    if (problem) return { ok: false, reason: `“${text.trim()}” ${problem}` };
  }
  const t = number;
  if (!t) return { ok: false, reason: text.trim() ? `“${text.trim()}” is not an amount` : 'is empty' };
  if (isShortForm(t)) return { ok: false, reason: `“${text}” was turned into a short form by a spreadsheet` };
  if (t.startsWith('-')) return { ok: false, reason: `“${text.trim()}” is below zero` };
  const group = decimal === '.' ? ',' : '.';
  const [whole, part, more] = t.split(decimal);
  if (more !== undefined || !/^[\d.,]+$/.test(t))
    return { ok: false, reason: `“${text.trim()}” is not an amount` };
  const groups = whole!.split(group);
  const grouped =
    groups.length === 1 ||
    (groups[0]!.length <= 3 && groups[0]!.length > 0 && groups.slice(1).every((g) => g.length === 3));
  if (!grouped || (part !== undefined && !/^\d*$/.test(part)))
    return {
      ok: false,
      reason: `“${text.trim()}” does not fit a decimal ${decimal === '.' ? 'point' : 'comma'}`,
    };
  const fraction = part ?? '';
  const scaled = Number(
    groups.join('') + fraction.slice(0, 9).padEnd(Math.max(digits, Math.min(fraction.length, 9)), '0'),
  );
  const extra = Math.max(0, Math.min(fraction.length, 9) - digits);
  if (!Number.isSafeInteger(scaled)) return { ok: false, reason: `“${text.trim()}” is too large` };
  const minor = extra ? divideUp(scaled, 10 ** extra) : scaled;
  return minor > LARGEST_MINOR
    ? { ok: false, reason: `“${text.trim()}” is too large` }
    : { ok: true, value: minor };
}

/** Words for “there is some”, in the languages lists come in. */
const SOME = new Set(
  'in stock,instock,available,yes,y,true,auf lager,lagernd,lieferbar,verfügbar,ja,en stock,disponible,oui,dostępny,dostępne,na stanie,w magazynie,tak,en existencia,en existencias,sí,si,hay,disponibile,op voorraad,x'.split(
    ',',
  ),
);
const NONE = new Set(
  'out of stock,outofstock,sold out,unavailable,discontinued,no,n,false,none,nicht lieferbar,nicht verfügbar,ausverkauft,nicht auf lager,nein,rupture,en rupture,épuisé,indisponible,non,brak,niedostępny,niedostępne,wyprzedane,nie,agotado,sin stock,sin existencias,no disponible,esaurito,-'.split(
    ',',
  ),
);
const FEW = new Set(
  'low,low stock,few,last pieces,wenige,geringer bestand,restposten,stock faible,peu,mało,ostatnie sztuki,pocas,últimas unidades,bajo'.split(
    ',',
  ),
);

/** Whether a cell is one of the words for stock. */
export const isStockWord = (text: string): boolean => {
  const t = text.trim().toLowerCase();
  return SOME.has(t) || NONE.has(t) || FEW.has(t);
};

/** Units in stock: `12`, `>100`, `100+`, `1.200`, `12,0`, `in stock`, `ausverkauft`. */
export function readStock(text: string, someStock: number): Parsed<number> {
  if (/^\d{1,7}$/.test(text)) return { ok: true, value: Number(text) };
  const t = text.trim().toLowerCase();
  if (!t) return { ok: false, reason: 'is empty' };
  if (SOME.has(t)) return { ok: true, value: someStock };
  if (NONE.has(t)) return { ok: true, value: 0 };
  if (FEW.has(t)) return { ok: true, value: Math.min(2, someStock) };
  const match =
    /^(?:>|>=|≥|über|over|plus de|ponad|más de)?\s*(-?\d{1,3}(?:[.,\s]\d{3})+|-?\d+)(?:[.,]0+)?\s*\+?\s*(?:pcs|pc|stk|stück|szt\.?|uds?\.?|pièces|units?)?$/.exec(
      t,
    );
  if (!match) return { ok: false, reason: `“${text.trim()}” is not a stock` };
  const n = Number(match[1]!.replace(/[.,\s]/g, ''));
  if (n > 10_000_000) return { ok: false, reason: `“${text.trim()}” is too large` };
  // Lists show what is owed to buyers as less than nothing: there is none.
  return { ok: true, value: Math.max(0, n) };
}

/** Milligrams, so that ounces stay exact: 1 oz is 28,349.523125 mg (international pound of 1959). */
const GRAMS: Readonly<Record<WeightUnit, number>> = { g: 1, kg: 1000, oz: 28.349523125, lb: 453.59237 };
export const UNIT_WORDS: Readonly<Record<string, WeightUnit>> = {
  g: 'g',
  gr: 'g',
  gram: 'g',
  grams: 'g',
  gramm: 'g',
  kg: 'kg',
  kgs: 'kg',
  oz: 'oz',
  lb: 'lb',
  lbs: 'lb',
};

/** Grams, rounded up: `250 g`, `0,25 kg`, `8 oz`, `1.2` in the list's own unit. */
export function readWeight(text: string, unit: WeightUnit): Parsed<number> {
  if (unit === 'g' && /^\d{1,6}$/.test(text)) return { ok: true, value: Number(text) };
  const match = /^(\d+(?:[.,]\d+)?)\s*([a-z]+)?\.?$/i.exec(text.trim());
  const named = match?.[2] ? UNIT_WORDS[match[2].toLowerCase()] : unit;
  if (!match || !named)
    return { ok: false, reason: text.trim() ? `“${text.trim()}” is not a weight` : 'is empty' };
  const grams = Math.ceil(Math.round(Number(match[1]!.replace(',', '.')) * GRAMS[named] * 1000) / 1000);
  return grams > 1_000_000
    ? { ok: false, reason: `“${text.trim()}” is heavier than any parcel` }
    : { ok: true, value: grams };
}

/** Whether a cell is a weight with its unit written beside it. */
export const hasWeightUnit = (text: string): boolean =>
  /^\d+(?:[.,]\d+)?\s*(g|gr|kg|oz|lbs?)\.?$/i.test(text.trim());

/** What a spreadsheet makes of a long number: `4.00638E+12`. */
export const isShortened = (text: string): boolean => /^\d(?:[.,]\d+)?E\+\d{1,2}$/i.test(text.trim());

/** What a spreadsheet makes of a size or code such as 10-12: `12-Oct`, `Oct-12`, `01.12.2026`. */
export const isDateLike = (text: string): boolean =>
  /^\d{4}-\d{2}-\d{2}$/.test(text.trim()) ||
  /^(?:\d{1,2}[-. ](?:jan|feb|mar|mär|apr|may|mai|jun|jul|aug|sep|oct|okt|nov|dec|dez)|(?:jan|feb|mar|mär|apr|may|mai|jun|jul|aug|sep|oct|okt|nov|dec|dez)[-. ]\d{2,4})\.?$/i.test(
    text.trim(),
  );

/**
 * A barcode: digits, with spaces and hyphens between. One that lost leading zeros gets them back where its
 * check digit then fits. A wrong check digit is kept: it is shown where it matters.
 */
export function readGtin(text: string): Parsed<string | null> {
  if (isGtin(text)) return { ok: true, value: text };
  const t = text.trim();
  if (!t || t === '-' || t === '0') return { ok: true, value: null };
  if (isShortened(t))
    return {
      ok: false,
      reason: `a spreadsheet turned the barcode into ${t}, its last digits are lost: format the column as text and export again`,
    };
  const digits = t.replace(/[\s-]/g, '').replace(/[.,]0+$/, '');
  if (!/^\d+$/.test(digits)) return { ok: false, reason: `“${t.slice(0, 40)}” is not a barcode` };
  if (isGtin(digits)) return { ok: true, value: digits };
  for (const length of [8, 12, 13, 14]) {
    const padded = digits.padStart(length, '0');
    if (digits.length < length && digits.length >= length - 3 && isGtin(padded))
      return { ok: true, value: padded };
  }
  return digits.length >= 8 && digits.length <= 14
    ? { ok: true, value: digits }
    : { ok: false, reason: `“${t.slice(0, 40)}” is not a barcode: it has ${digits.length} digits` };
}
