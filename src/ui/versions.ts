'use client';
import { useFeed } from './asked';

/** Grows whenever what Source shows may have changed; 0 until the worker looked for the first time. */
export const useSourceVersion = () => useFeed('sourceVersion') ?? 0;

/** Grows whenever a listing, or what one is made of, changed; 0 until the shop was read. */
export const useListingsVersion = () => useFeed('listingsVersion') ?? 0;

/** Grows whenever an order or its account changed; 0 until the orders were read. */
export const useOrdersVersion = () => useFeed('ordersVersion') ?? 0;

/** Grows whenever an account statement, a cost of the shop, an order or its account changed; 0 until the orders were read. */
export const useStatementsVersion = () => useFeed('statementsVersion') ?? 0;

/** Grows whenever a product feed, what was made of one, or a listing changed; 0 until the shop was read. */
export const useProductFeedsVersion = () => useFeed('productFeedsVersion') ?? 0;
