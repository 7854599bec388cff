'use client';
import { proxy } from 'comlink';
import { theShop } from '../work/clients';
import { followed } from './followed';

/** Grows whenever what Source shows may have changed; 0 until the worker looked for the first time. */
export const useSourceVersion = followed(0, (tell) => theShop().watchSource(proxy(tell)));

/** Grows whenever a listing, or what one is made of, changed; 0 until the shop was read. */
export const useListingsVersion = followed(0, (tell) => theShop().watchListings(proxy(tell)));

/** Grows whenever an order or its account changed; 0 until the orders were read. */
export const useOrdersVersion = followed(0, (tell) => theShop().watchOrders(proxy(tell)));
