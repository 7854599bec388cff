/** A place where a maker prints. */
export interface PrintSite {
  readonly id: string;
  readonly name: string;
  /** ISO 3166-1 alpha-2. */
  readonly country: string;
  /** Where it sends, what a purchase costs more from there, in the maker's currency, and the days to the buyer. */
  readonly reaches: readonly {
    readonly to: readonly string[];
    readonly extra: number;
    readonly days: number;
  }[];
}

export interface SiteChoice {
  readonly site: PrintSite;
  readonly extra: number;
  readonly days: number;
}

/**
 * The sites that print for a buyer, the one that is meant first, the others behind it as its backup: the nearest (in the
 * buyer's country, else the fastest) where it costs no more than so much above the cheapest, else the cheapest.
 * @param upTo in the currency of the books
 * @param worth what an amount of the maker's currency is in the books; null where no rate is known
 */
export function sitesFor(
  sites: readonly PrintSite[],
  country: string,
  upTo: number,
  worth: (minor: number) => number | null,
): SiteChoice[] {
  const able = sites.flatMap((site) => {
    const reach = site.reaches.find((r) => r.to.includes(country));
    return reach ? [{ site, extra: reach.extra, days: reach.days }] : [];
  });
  const cheap = [...able].sort((a, b) => a.extra - b.extra || a.days - b.days);
  const isHome = (c: SiteChoice) => Number(c.site.country !== country);
  const [near] = [...able].sort((a, b) => isHome(a) - isHome(b) || a.days - b.days || a.extra - b.extra);
  const more = near && cheap[0] ? worth(near.extra - cheap[0].extra) : null;
  if (!near || more === null || more > upTo) return cheap;
  return [near, ...cheap.filter((c) => c !== near)];
}
