import type { Address } from '../orders';
import { languageOf, type SlipWords, wordsIn } from './words';

/** What a packing slip is made of. */
export interface SlipFacts {
  readonly shop: string;
  readonly contact: string;
  readonly number: string;
  /** Written out, such as `27 Nov 2026`. */
  readonly day: string;
  readonly address: Address;
  readonly lines: readonly { readonly units: number; readonly title: string; readonly words: string }[];
  readonly message: string;
  /** What the buyer writes to whom it is given; '' where it is no present. */
  readonly gift: string;
}

/** A packing slip as it is laid out: nothing of prices stands on it. */
export interface Slip extends SlipFacts {
  readonly language: string;
}

export const slipOf = (facts: SlipFacts): Slip => ({ ...facts, language: languageOf(facts.address.country) });

/** All that is printed on a slip, for finding letters that the fonts lack. */
const textsOf = (slip: Slip, words: SlipWords): string[] => [
  ...[slip.shop, slip.contact, slip.number, slip.day, slip.message, slip.gift, words.title],
  ...Object.values(slip.address),
  ...slip.lines.flatMap((l) => [l.title, l.words]),
];

/** Letters of a slip that no font has, each once: they would be printed as a gap. @param has whether a font has a letter */
export function lettersLacking(slip: Slip, has: (codePoint: number) => boolean): string[] {
  const lost = new Set<string>();
  for (const text of textsOf(slip, wordsIn(slip.language)))
    for (const letter of text) if (!/\s/.test(letter) && !has(letter.codePointAt(0)!)) lost.add(letter);
  return [...lost];
}
