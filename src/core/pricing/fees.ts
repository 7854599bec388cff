import { halfUp, type Ppm, WHOLE } from '../money';
import type { Fee, FeeBand, FeeKind } from './fee';
import { type Piece, piecesOf } from './pieces';
import type { Tax } from './tax';

/**
 * One fee of a marketplace, amounts in minor units of its currency. A percentage in bands, at least and at most so
 * much, and a fixed amount on top.
 */
export interface FeeRule {
  readonly id: string;
  readonly name: string;
  readonly kind: FeeKind;
  /**
   * `item`: of the price of each unit sold; `order`: once, of all units together; `listing`: once for each unit, for
   * listing it again.
   */
  readonly per: 'item' | 'order' | 'listing';
  /**
   * By marketplace category, `*` for any other; empty where there is no percentage. Fees per order have `*` alone.
   */
  readonly bands: Readonly<Record<string, readonly FeeBand[]>>;
  readonly fixed: number;
  readonly least: number | null;
  readonly most: number | null;
  /** Whether what the buyer pays for shipping is part of its base. */
  readonly onShipping: boolean;
  /** Whether tax is part of its base: the tax inside the price, or the tax added at checkout. */
  readonly onTax: boolean;
  /** Counts only where the seller has opted in. */
  readonly optional: boolean;
}

/** A marketplace's fees and its tax on sales. */
export interface FeeTable {
  readonly rules: readonly FeeRule[];
  readonly tax: Tax;
}

/** All that leaves a price on a marketplace in one category: its fees, the tax inside, and both as straight pieces. */
export interface Deductions {
  readonly fees: readonly Fee[];
  /** Tax contained in the price: 20 % is 200,000, so a sixth of the price. 0 where tax is added at checkout, or there is none. */
  readonly taxInside: Ppm;
  /** What is left of a price before cost, were nothing rounded; see {@link Piece}. */
  readonly pieces: readonly Piece[];
  /** By how many minor units rounding can move it either way. */
  readonly slack: number;
}

const NO_END = Number.MAX_SAFE_INTEGER;

/** A rule as it holds in one category. @returns null where its percentage is named by category and none fits */
export function feeIn(rule: FeeRule, tax: Tax, category: string): Fee | null {
  const named = Object.keys(rule.bands).length > 0;
  const bands = named ? (Object.hasOwn(rule.bands, category) ? rule.bands[category] : rule.bands['*']) : [];
  if (!bands) return null;
  return {
    kind: rule.kind,
    name: rule.name,
    per: rule.per,
    bands,
    fixed: rule.fixed,
    least: rule.least ?? 0,
    most: rule.most ?? NO_END,
    onShipping: rule.onShipping,
    plusTax: rule.onTax && tax.model === 'added' ? tax.rate : 0,
    lessTax: !rule.onTax && tax.model === 'inside' ? tax.rate : 0,
  };
}

/** Compiled fees of a table, by category and what the seller opted in to: a shop asks for the same ones with each price. */
const compiled = new WeakMap<FeeTable, Map<string, Deductions | null>>();

/**
 * The fees of one category, compiled once for a table.
 * @param optedIn ids of the optional rules that the seller has opted in to
 * @returns null where a percentage is named by category and none fits
 */
export function deductionsFor(
  table: FeeTable,
  category: string,
  optedIn: readonly string[] = [],
): Deductions | null {
  let by = compiled.get(table);
  if (!by) {
    by = new Map();
    compiled.set(table, by);
  }
  const key = [category, ...optedIn].join('\n');
  let deductions = by.get(key);
  if (deductions === undefined) {
    deductions = compileFees(table, category, optedIn);
    by.set(key, deductions);
  }
  return deductions;
}

function compileFees(table: FeeTable, category: string, optedIn: readonly string[]): Deductions | null {
  const fees: Fee[] = [];
  const { tax } = table;
  for (const rule of table.rules) {
    if (rule.optional && !optedIn.includes(rule.id)) continue;
    const fee = feeIn(rule, tax, category);
    if (!fee) return null;
    fees.push(fee);
  }
  const taxInside = tax.model === 'inside' ? tax.rate : 0;
  const slack = fees.reduce((sum, f) => sum + 0.5 + (f.plusTax || f.lessTax ? 0.5 : 0), 0.5 + 0.25);
  return { fees, taxInside, pieces: piecesOf(fees, taxInside), slack };
}

/** The amount a fee is taken of. Tax in it is rounded on its own, halves up. */
function baseOf(fee: Fee, amount: number): number {
  if (fee.plusTax) return amount + halfUp(amount * fee.plusTax, WHOLE);
  return fee.lessTax ? amount - halfUp(amount * fee.lessTax, WHOLE + fee.lessTax) : amount;
}

/**
 * One fee on an amount (a price, with the buyer's shipping where the fee is on it): rates hold for the part within each band, halves
 * rounded up once at the end, then the least and the most, then the fixed amount.
 */
export function feeOn(fee: Fee, amount: number): number {
  const base = baseOf(fee, amount);
  let sum = 0;
  let from = 0;
  for (const band of fee.bands) {
    const to = band.upTo === null ? base : Math.min(base, band.upTo);
    if (to > from) sum += (to - from) * band.rate;
    if (band.upTo === null || base <= band.upTo) break;
    from = band.upTo;
  }
  return Math.min(Math.max(halfUp(sum, WHOLE), fee.least), fee.most) + fee.fixed;
}

/** Tax contained in an amount: amount × r ÷ (1 + r), halves rounded up. */
export function taxInside(rate: Ppm, amount: number): number {
  return rate ? halfUp(amount * rate, WHOLE + rate) : 0;
}
