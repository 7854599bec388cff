'use client';
import type { ShopTerms } from '../work/quoting/worth';
import { useFeed } from './asked';

/**
 * What prices are made with; undefined while it is read. The same object while it says the same: views draw what they
 * show again when it is another.
 */
export const useShop = (): ShopTerms | undefined => useFeed('terms');
