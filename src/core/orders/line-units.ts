/** Some units of one line of an order. */
export interface LineUnits {
  readonly line: string;
  readonly units: number;
}

/** Units of a line among some. */
export const unitsOf = (some: readonly LineUnits[], line: string): number =>
  some.reduce((n, one) => (one.line === line ? n + one.units : n), 0);

/** Units by line, one entry for each line that has any. */
export function byLine(some: Iterable<LineUnits>): LineUnits[] {
  const sums = new Map<string, number>();
  for (const { line, units } of some) sums.set(line, (sums.get(line) ?? 0) + units);
  return [...sums].flatMap(([line, units]) => (units > 0 ? [{ line, units }] : []));
}

/** What is left of some units without others. */
export const without = (some: readonly LineUnits[], others: readonly LineUnits[]): LineUnits[] =>
  byLine(some.map(({ line, units }) => ({ line, units: units - unitsOf(others, line) })));

export const countUnits = (some: readonly LineUnits[]): number => some.reduce((n, one) => n + one.units, 0);
