import type { Instant } from '../units';
import type { Address } from './address';

/**
 * Who bought an order, and what is that person's alone: names, addresses and words of theirs. Everything else that is
 * kept of an order names addresses and texts by their places here, so that one row is erased and nothing of the person is
 * left. Both lists only grow, so that what was sent with one stays as it was sent.
 */
export interface Buyer {
  /** The order's. */
  readonly id: string;
  readonly name: string;
  readonly email: string;
  readonly addresses: readonly Address[];
  /** What is made into the goods or printed on the packing slip. */
  readonly texts: readonly string[];
  /** Files of the buyer's that goods are made with; missing for none. */
  readonly files?: readonly BuyerFile[];
  /** When it was erased. */
  readonly erasedAt: Instant | null;
}

/** A picture of a buyer's, fetched from where its marketplace had it. */
export interface BuyerFile {
  readonly from: string;
  /** SHA-256 of its bytes, in hex. */
  readonly id: string;
  /** Pixels. */
  readonly width: number;
  readonly height: number;
}

/** The place of a text among a buyer's, and the buyer with it. */
export function withText(buyer: Buyer, text: string): { readonly buyer: Buyer; readonly place: number } {
  const known = buyer.texts.indexOf(text);
  if (known >= 0) return { buyer, place: known };
  return { buyer: { ...buyer, texts: [...buyer.texts, text] }, place: buyer.texts.length };
}

const isSame = (a: Address, b: Address): boolean =>
  (['name', 'line1', 'line2', 'town', 'postcode', 'country'] as const).every((part) => a[part] === b[part]);

/** The place of an address among a buyer's, and the buyer with it. */
export function withAddress(
  buyer: Buyer,
  address: Address,
): { readonly buyer: Buyer; readonly place: number } {
  const known = buyer.addresses.findIndex((a) => isSame(a, address));
  if (known >= 0) return { buyer, place: known };
  return { buyer: { ...buyer, addresses: [...buyer.addresses, address] }, place: buyer.addresses.length };
}

/** What is left of a buyer who is erased: countries, and how many texts there were. */
export const erased = ({ id, addresses, texts }: Buyer, at: Instant): Buyer => ({
  id,
  name: '',
  email: '',
  addresses: addresses.map(({ country }) => ({
    ...{ name: '', line1: '', line2: '', town: '', postcode: '' },
    country,
  })),
  texts: texts.map(() => ''),
  erasedAt: at,
});
