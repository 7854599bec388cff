/** A way of shipping that a supplier offers besides its usual one. */
export interface ShippingService {
  readonly id: string;
  readonly name: string;
  /** Countries that it delivers to, ISO 3166-1 alpha-2. */
  readonly to: readonly string[];
  /** What a purchase costs more by it, in the supplier's currency. */
  readonly extra: number;
  /** Promised days to the buyer. */
  readonly days: number;
}

/** A shipping service is taken where the usual one takes longer than this. */
export interface ServiceWish {
  readonly within: number;
  /** What it may cost more at most, in the currency of the books. */
  readonly upTo: number;
}

/**
 * The cheapest service that is at the buyer in time, where the usual one is not; null for the usual one.
 * @param usual days of the usual one; null where none are promised
 * @param worth what an amount of the supplier's currency is in the books; null where no rate is known
 */
export function serviceFor(
  services: readonly ShippingService[],
  country: string,
  usual: number | null,
  { within, upTo }: ServiceWish,
  worth: (minor: number) => number | null,
): ShippingService | null {
  if (usual !== null && usual <= within) return null;
  const able = services.filter((s) => {
    const extra = worth(s.extra);
    return s.to.includes(country) && s.days <= within && extra !== null && extra <= upTo;
  });
  return able.reduce<ShippingService | null>(
    (best, s) => (!best || s.extra < best.extra || (s.extra === best.extra && s.days < best.days) ? s : best),
    null,
  );
}

/** Days that parcels of a supplier really took to a country, from its acceptance to the door. */
export interface Transit {
  readonly parcels: number;
  /** Half of the parcels took at most so many, and nine in ten at most so many. */
  readonly median: number;
  readonly most: number;
}

/** Parcels from which on days are learned: fewer say little. */
export const LEAST_PARCELS = 5;
const DAY = 86_400_000;

/** What parcels' times come to, in days begun; null for too few. Percentiles by nearest rank. @param times milliseconds each */
export function transitOf(times: readonly number[]): Transit | null {
  if (times.length < LEAST_PARCELS) return null;
  const days = times.map((ms) => Math.max(1, Math.ceil(ms / DAY))).sort((a, b) => a - b);
  const rank = (share: number) => days[Math.ceil(days.length * share) - 1]!;
  return { parcels: days.length, median: rank(0.5), most: rank(0.9) };
}

/** Days beyond what is usual before a parcel counts as overdue, and days that are usual where nothing is known. */
const GRACE = 2;
const UNKNOWN = 12;

/**
 * Days after which a parcel of a supplier is on its way longer than usual: than nine in ten took, else than twice what is
 * promised, with some days' grace.
 */
export const overdueAfter = (real: Transit | null, promised: number | null): number =>
  (real?.most ?? (promised === null ? UNKNOWN : promised * 2)) + GRACE;
