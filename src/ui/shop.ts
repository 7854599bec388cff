'use client';
import { useLiveQuery } from 'dexie-react-hooks';
import { db, type MarketConnection, type SupplierConnection } from '../store';
import type { Shop } from '../work/shop/quote';
import { readShop } from '../work/shop/read-shop';

/** What quotes are made with, followed live; undefined while it is read. */
export function useShop(): Shop | undefined {
  return useLiveQuery(() => readShop(db, Date.now()), []);
}

export const suppliersOf = (shop: Shop) =>
  [...shop.connections.values()].filter((c): c is SupplierConnection => c.role === 'supplier');
export const marketsOf = (shop: Shop) =>
  [...shop.connections.values()]
    .filter((c): c is MarketConnection => c.role === 'marketplace')
    .sort((a, b) => a.connectedAt - b.connectedAt);
