/**
 * `5..20`, `>3`, `>=3`, `<8`, `<=8`, `7`, `5..`, `..20`; null where it is none of these. Ends are included
 * but for `>` and `<`.
 */
export function parseRange(text: string): ((n: number) => boolean) | null {
  const span = /^(-?\d+(?:[.,]\d+)?)?\.\.(-?\d+(?:[.,]\d+)?)?$/.exec(text);
  const num = (t: string | undefined) => (t === undefined ? null : Number(t.replace(',', '.')));
  if (span && (span[1] ?? span[2]) !== undefined) {
    const min = num(span[1]) ?? Number.NEGATIVE_INFINITY;
    const max = num(span[2]) ?? Number.POSITIVE_INFINITY;
    return (n) => n >= min && n <= max;
  }
  const one = /^(>=|<=|>|<|=)?(-?\d+(?:[.,]\d+)?)$/.exec(text);
  if (!one) return null;
  const x = num(one[2])!;
  switch (one[1]) {
    case '>':
      return (n) => n > x;
    case '>=':
      return (n) => n >= x;
    case '<':
      return (n) => n < x;
    case '<=':
      return (n) => n <= x;
    default:
      return (n) => n === x;
  }
}

/** Ends of a range over whole numbers, both included. */
export interface Bounds {
  readonly min: number;
  readonly max: number;
}

/**
 * {@link parseRange} over whole numbers: `scale` is how many units the typed number has, so that `cost:>3.5`
 * with 100 means from 351 on. Null where the text is no range.
 */
export function parseBounds(text: string, scale: number): Bounds | null {
  const units = (t: string) => Math.round(Number(t.replace(',', '.')) * scale * 1e4) / 1e4;
  const span = /^(-?\d+(?:[.,]\d+)?)?\.\.(-?\d+(?:[.,]\d+)?)?$/.exec(text);
  if (span && (span[1] ?? span[2]) !== undefined)
    return {
      min: span[1] === undefined ? Number.NEGATIVE_INFINITY : Math.ceil(units(span[1])),
      max: span[2] === undefined ? Number.POSITIVE_INFINITY : Math.floor(units(span[2])),
    };
  const one = /^(>=|<=|>|<|=)?(-?\d+(?:[.,]\d+)?)$/.exec(text);
  if (!one) return null;
  const x = units(one[2]!);
  switch (one[1]) {
    case '>':
      return { min: Math.floor(x) + 1, max: Number.POSITIVE_INFINITY };
    case '>=':
      return { min: Math.ceil(x), max: Number.POSITIVE_INFINITY };
    case '<':
      return { min: Number.NEGATIVE_INFINITY, max: Math.ceil(x) - 1 };
    case '<=':
      return { min: Number.NEGATIVE_INFINITY, max: Math.floor(x) };
    default:
      return { min: Math.ceil(x), max: Math.floor(x) };
  }
}
