import isPostalCode, { locales } from 'validator/lib/isPostalCode';
import type { Address } from './address';

/** Countries whose addresses have no postcode, or need none. Source: Universal Postal Union, addressing systems. */
const NO_POSTCODES = new Set(
  'AE AG AO AW BJ BO BS BW BZ BF BI CD CF CG CI CK CM DJ DM ER FJ GD GH GM GN GQ GY HK IE JM KI KM KN LC ML MO MR MW NR NU PA QA RW SB SC SL SO SR ST SY TF TG TK TL TO TV TZ UG VU YE ZW'.split(
    ' ',
  ),
);

const KNOWN: ReadonlySet<string> = new Set(locales);

/** Both halves of a British postcode, from the BS 7666 pattern: the table takes the first alone. */
const GB_POSTCODE = /^[A-Z]{1,2}\d[A-Z\d]? ?\d[ABD-HJLNP-UW-Z]{2}$/;

export const needsPostcode = (country: string): boolean => !NO_POSTCODES.has(country);

/** Whether a postcode has the shape of its country's; null where that shape is not known here. */
export function fitsPostcode(postcode: string, country: string): boolean | null {
  if (!KNOWN.has(country)) return null;
  const written = postcode.trim().toUpperCase();
  if (country === 'GB') return GB_POSTCODE.test(written);
  return isPostalCode(written, country as Parameters<typeof isPostalCode>[1]);
}

/** A post-office box or a parcel locker, as they are written in the languages of the countries that suppliers serve. */
const BOX =
  /\b(p\.? ?o\.? ?box|post office box|postfach|packstation|bo[iî]te postale|b\.?p\.? \d+|apartado( de correos)?|casella postale|postbus|skr(ytka|\.) ?poczt\w*|postboks|post ?lokero|caixa postal)\b/i;

/** Whether it names a post-office box or a locker, where not every carrier delivers. */
export const isBox = ({ line1, line2 }: Pick<Address, 'line1' | 'line2'>): boolean =>
  BOX.test(line1) || BOX.test(line2);

/** How postcodes that are written together are written apart, by country: the places of the gap. */
const GAPS: Readonly<Record<string, { readonly at: number; readonly with: string }>> = {
  GB: { at: -3, with: ' ' },
  CA: { at: 3, with: ' ' },
  NL: { at: 4, with: ' ' },
  SE: { at: 3, with: ' ' },
  CZ: { at: 3, with: ' ' },
  SK: { at: 3, with: ' ' },
  GR: { at: 3, with: ' ' },
  PL: { at: 2, with: '-' },
  PT: { at: 4, with: '-' },
  JP: { at: 3, with: '-' },
  BR: { at: 5, with: '-' },
};

/** A postcode as its country writes it; null where no slight change makes one of it. */
export function mendedPostcode(postcode: string, country: string): string | null {
  const plain = postcode.trim().toUpperCase().replace(/\s+/g, ' ');
  const bare = plain.replace(new RegExp(`^${country}[- ]`), '').replace(/^[DFLABI]-(?=\d)/, '');
  const tight = bare.replace(/[\s.-]/g, '');
  const digits = tight.replace(/[OQ]/g, '0').replace(/[IL]/g, '1').replace(/S/g, '5');
  const gap = GAPS[country];
  const apart = (text: string) => (gap ? `${text.slice(0, gap.at)}${gap.with}${text.slice(gap.at)}` : text);
  const tries = [plain, bare, apart(tight), tight, apart(digits), digits];
  if (country === 'US' && tight.length === 9) tries.push(`${tight.slice(0, 5)}-${tight.slice(5)}`);
  if (country === 'US' && /^\d{4}$/.test(tight)) tries.push(`0${tight}`);
  // What fits as it is but for its gap is written with the gap that its country has.
  const written = gap && fitsPostcode(apart(tight), country) ? apart(tight) : null;
  return written ?? tries.find((one) => one && fitsPostcode(one, country)) ?? null;
}

/** Cuts a line at the last gap before its longest length. */
function cut(line: string, longest: number): [string, string] | null {
  if (line.length <= longest) return null;
  const comma = line.lastIndexOf(', ', longest - 1);
  const at = comma > 0 ? comma : line.lastIndexOf(' ', longest);
  if (at <= 0) return null;
  return [line.slice(0, at), line.slice(at).replace(/^[, ]+/, '')];
}

/**
 * How an address would be written so that it is complete and plausible: the postcode as its country writes it, found behind
 * the town, or in its place; a street that is too long over two lines. Only ever proposed.
 * @returns null where nothing is to be mended, or nothing is known that would
 */
export function mendedAddress(address: Address, longest: number = Number.POSITIVE_INFINITY): Address | null {
  const { country } = address;
  let now: Address = {
    ...address,
    line1: address.line1.trim().replace(/\s+/g, ' '),
    town: address.town.trim().replace(/\s+/g, ' '),
    postcode: address.postcode.trim(),
  };
  if (fitsPostcode(now.postcode, country) !== null) {
    const mended = mendedPostcode(now.postcode, country);
    if (mended) now = { ...now, postcode: mended };
    else if (mendedPostcode(now.town, country) && /\p{L}{2}/u.test(now.postcode))
      now = { ...now, town: now.postcode, postcode: mendedPostcode(now.town, country)! };
    else {
      // `Bristol BS1 4DJ`: the last words of the town, or the first, are the postcode.
      const words = now.town.split(' ');
      for (const n of [1, 2]) {
        if (words.length <= n) break;
        const last = mendedPostcode(words.slice(-n).join(' '), country);
        const first = mendedPostcode(words.slice(0, n).join(' '), country);
        if (last) now = { ...now, town: words.slice(0, -n).join(' ').replace(/,$/, ''), postcode: last };
        else if (first) now = { ...now, town: words.slice(n).join(' '), postcode: first };
        if (last || first) break;
      }
    }
  }
  if (!now.line2.trim()) {
    const parts = cut(now.line1, longest);
    if (parts) now = { ...now, line1: parts[0], line2: parts[1] };
  }
  const same = (['name', 'line1', 'line2', 'town', 'postcode'] as const).every((p) => now[p] === address[p]);
  return same ? null : now;
}
