import { halfUp, type Ppm, shareOut, WHOLE } from '../money';
import type { FeeKind } from './fee';
import { type Deductions, feeOn, taxInside } from './fees';

/** What one line of a sum is for. */
export type SumKind = 'goods' | 'shipping' | 'tax on cost' | CostPart['kind'] | FeeKind | 'tax';

/** One amount that leaves a price, minor units. */
export interface SumLine {
  readonly kind: SumKind;
  /** The marketplace's name for a fee; '' where the kind says it all. */
  readonly name: string;
  readonly minor: number;
}

/** One sale at a price: everything that leaves it, line by line, and what is left. */
export interface Sum {
  readonly price: number;
  readonly lines: readonly SumLine[];
  /** What the goods cost until they are at the buyer: goods, shipping, what comes besides, and tax that is not reclaimed. */
  readonly landed: number;
  readonly profit: number;
}

/** Something that buying costs besides goods and shipping; below nothing where it comes back. */
export interface CostPart {
  /** `paying`: what a bank or a payment service takes for paying the supplier. */
  readonly kind: 'handling' | 'duty' | 'import tax' | 'paying' | 'cashback';
  readonly minor: number;
}

/** What a unit costs, in minor units of the marketplace, without tax. */
export interface Costs {
  readonly goods: number;
  readonly shipping: number;
  /** Tax on both, and on handling, that is not reclaimed; 0 where it is. */
  readonly tax: number;
  readonly more: readonly CostPart[];
}

const NO_MORE: readonly CostPart[] = [];

/** Costs with the tax on them that cannot be reclaimed; halves rounded up. */
export function withTax(goods: number, shipping: number, rate: Ppm, more = NO_MORE): Costs {
  if (!rate) return { goods, shipping, tax: 0, more };
  const handling = more.find((part) => part.kind === 'handling')?.minor ?? 0;
  return { goods, shipping, tax: halfUp((goods + shipping + handling) * rate, WHOLE), more };
}

export function landedOf({ goods, shipping, tax, more }: Costs): number {
  let landed = goods + shipping + tax;
  for (const part of more) landed += part.minor;
  return landed;
}

/** One line of an order on its marketplace. */
export interface SoldLine {
  readonly unitPrice: number;
  readonly quantity: number;
  readonly deductions: Deductions;
}

/**
 * What a marketplace takes of an order, and the tax inside. Fees per item are taken of each unit's price, with its share of the buyer's
 * shipping where they are on it; fees per order once, of all together. Tax is worked out once, of all that the buyer pays, as it is
 * declared by order and not by unit; the lines of an order share one tax model.
 * @param shipping what the buyer pays for shipping
 */
export function takenOf(lines: readonly SoldLine[], shipping: number): SumLine[] {
  const first = lines[0]?.deductions;
  if (!first) return [];
  const revenue = lines.reduce((sum, l) => sum + l.unitPrice * l.quantity, 0);
  const shares = shippingShares(lines, shipping, revenue);
  const taken: { kind: SumKind; name: string; minor: number }[] = [];
  const add = (kind: SumKind, name: string, minor: number) => {
    const line = taken.find((t) => t.kind === kind && t.name === name);
    if (line) line.minor += minor;
    else taken.push({ kind, name, minor });
  };
  for (const [i, { unitPrice, quantity, deductions }] of lines.entries())
    for (const fee of deductions.fees) {
      if (fee.per === 'order') continue;
      if (!fee.onShipping || !shipping) add(fee.kind, fee.name, feeOn(fee, unitPrice) * quantity);
      else for (const share of shares[i]!) add(fee.kind, fee.name, feeOn(fee, unitPrice + share));
    }
  for (const fee of first.fees)
    if (fee.per === 'order') add(fee.kind, fee.name, feeOn(fee, revenue + (fee.onShipping ? shipping : 0)));
  if (first.taxInside) add('tax', '', taxInside(first.taxInside, revenue + shipping));
  return taken;
}

/** The buyer's shipping shared out over the units of each line by their price, without losing a minor unit. */
function shippingShares(lines: readonly SoldLine[], shipping: number, revenue: number): number[][] {
  if (!shipping) return [];
  const weights = lines.flatMap((l) => Array.from({ length: l.quantity }, () => (revenue ? l.unitPrice : 1)));
  const shares = shareOut(shipping, weights);
  return lines.map((l) => shares.splice(0, l.quantity));
}

/** The whole sum of one sale at a price, to the minor unit. Agrees with {@link takenOf} for one unit without shipping paid. */
export function sumAt(price: number, costs: Costs, deductions: Deductions): Sum {
  const cost: SumLine[] = [
    { kind: 'goods', name: '', minor: costs.goods },
    { kind: 'shipping', name: '', minor: costs.shipping },
    ...costs.more.map((part) => ({ ...part, name: '' })),
    ...(costs.tax ? [{ kind: 'tax on cost', name: '', minor: costs.tax } as const] : []),
  ];
  const lines = [...cost, ...takenOf([{ unitPrice: price, quantity: 1, deductions }], 0)];
  return {
    price,
    lines,
    landed: landedOf(costs),
    profit: lines.reduce((left, l) => left - l.minor, price),
  };
}

/** What is left of a price before cost. */
function leftOf(price: number, deductions: Deductions): number {
  let left = price - taxInside(deductions.taxInside, price);
  for (const fee of deductions.fees) left -= feeOn(fee, price);
  return left;
}

/** Prices of a chunk, a power of two; and chunks that are kept: prices of up to ten thousand in whole amounts. */
const CHUNK_BITS = 9;
const CHUNKS = 2_048;
/** Stands for a price that was not asked for yet. */
const UNASKED = -2_147_483_648;

/** What is left of each price before cost, worked out once when it is asked for first. */
export class LeftTable {
  private readonly chunks: (Int32Array | undefined)[] = [];

  constructor(private readonly deductions: Deductions) {}

  at(price: number): number {
    const chunk = price >> CHUNK_BITS;
    if (chunk >= CHUNKS || price < 0 || price > 0x7fffffff) return leftOf(price, this.deductions);
    const known = this.chunks[chunk] ?? this.open(chunk);
    const place = price & ((1 << CHUNK_BITS) - 1);
    const left = known[place]!;
    if (left !== UNASKED) return left;
    known[place] = leftOf(price, this.deductions);
    return known[place]!;
  }

  private open(chunk: number): Int32Array {
    const fresh = new Int32Array(1 << CHUNK_BITS).fill(UNASKED);
    this.chunks[chunk] = fresh;
    return fresh;
  }
}

const tables = new WeakMap<Deductions, LeftTable>();

/** The table of a category's fees: solving tries many prices, and all items of a category try the same ones. */
export function leftTable(deductions: Deductions): LeftTable {
  let table = tables.get(deductions);
  if (!table) {
    table = new LeftTable(deductions);
    tables.set(deductions, table);
  }
  return table;
}

/** Profit of one sale; the inner loop's short form of {@link sumAt}. */
export const profitAt = (price: number, landed: number, deductions: Deductions): number =>
  leftTable(deductions).at(price) - landed;

/** All lines of some kinds together. */
export const totalOf = (sum: Sum, ...kinds: readonly SumKind[]): number =>
  sum.lines.reduce((total, l) => (kinds.includes(l.kind) ? total + l.minor : total), 0);
