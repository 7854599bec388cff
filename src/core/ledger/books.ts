/** Years for which orders and their accounts are kept where nothing else is set: as long as the books of most countries ask. */
export const ORDER_YEARS = 10;

/**
 * Years for which the books of a trade and their vouchers are to be kept, where the shop's clock says in which country it
 * is. Sources: HMRC, VAT Notice 700/21 (6 years); § 147 AO of Germany (10 for books); Code de commerce L123-22 (10); Taxes
 * Consolidation Act 1997 s. 886 (6, Ireland); art. 52 AWR (7, Netherlands); Ordynacja podatkowa art. 86 (5 from the end of
 * the tax year, 6 in all); IRS Publication 583 (up to 7).
 */
const YEARS: Readonly<Record<string, { readonly country: string; readonly years: number }>> = {
  'Europe/London': { country: 'the United Kingdom', years: 6 },
  'Europe/Dublin': { country: 'Ireland', years: 6 },
  'Europe/Berlin': { country: 'Germany', years: 10 },
  'Europe/Paris': { country: 'France', years: 10 },
  'Europe/Amsterdam': { country: 'the Netherlands', years: 7 },
  'Europe/Warsaw': { country: 'Poland', years: 6 },
  'America/New_York': { country: 'the United States', years: 7 },
  'America/Chicago': { country: 'the United States', years: 7 },
  'America/Denver': { country: 'the United States', years: 7 },
  'America/Los_Angeles': { country: 'the United States', years: 7 },
};

/** What the books' country asks; null where the zone does not say. */
export const booksYears = (zone: string): { readonly country: string; readonly years: number } | null =>
  Object.hasOwn(YEARS, zone) ? YEARS[zone]! : null;
