export const PACES = ['still', 'real', 'fast'] as const;
export type PaceName = (typeof PACES)[number];

const HOUR = 3_600_000;

/**
 * How fast things happen outside. Times are always the true time; only the spans between happenings change.
 */
export class Pace {
  constructor(public name: PaceName) {}

  set(name: unknown): void {
    const known = PACES.find((p) => p === name);
    if (known) this.name = known;
  }
  /** From an order accepted to its parcel handed over. */
  shipAfter(): number {
    return this.name === 'still' ? Number.MAX_SAFE_INTEGER / 2 : this.name === 'fast' ? 20_000 : 7 * HOUR;
  }
  /** From handed over to delivered. */
  deliverAfter(): number {
    return this.name === 'still' ? Number.MAX_SAFE_INTEGER / 2 : this.name === 'fast' ? 30_000 : 26 * HOUR;
  }
  /** Orders an hour. */
  ordersPerHour(): number {
    return this.name === 'still' ? 0 : this.name === 'fast' ? 120 : 0.4;
  }
  /** Share of the catalogue that moves in an hour. */
  driftPerHour(): number {
    return this.name === 'still' ? 0 : this.name === 'fast' ? 2 : 0.02;
  }
}
