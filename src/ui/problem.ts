'use client';
import type { Currency } from '../core/money';
import { type ListingProblem, problemInWords } from '../core/pricing';
import { nameIn } from '../work/quoting/worth';
import { useShop } from './shop';

/** Puts problems of listings into words, in the currency of their marketplace. */
export function useProblemInWords(currency: Currency): (problem: ListingProblem) => string {
  const shop = useShop();
  const nameOf = shop ? nameIn(shop) : (id: string) => id;
  return (problem) => problemInWords(problem, currency, nameOf);
}
