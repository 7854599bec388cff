'use client';
import { useLiveQuery } from 'dexie-react-hooks';
import { useMemo, useRef } from 'react';
import { work } from '../work/browser';
import type { MarketConnection, SupplierConnection } from '../work/model';
import type { ShopTerms } from '../work/shop/quote';
import { readTerms } from '../work/shop/read-shop';

/** What prices are made with, followed live; undefined while it is read. The same object while it says the same. */
export function useShop(): ShopTerms | undefined {
  const read = useLiveQuery(() => readTerms(work.db, work.clock()), []);
  const known = useRef<{ text: string; terms: ShopTerms } | null>(null);
  return useMemo(() => {
    if (!read) return undefined;
    const { readAt: _, ...terms } = read;
    const { settings, plans, connections, rates, templates } = terms;
    const text = JSON.stringify([settings, plans, [...connections], [...rates.by], [...templates]]);
    if (known.current?.text !== text) known.current = { text, terms };
    return known.current.terms;
  }, [read]);
}

export const suppliersOf = (shop: ShopTerms) =>
  [...shop.connections.values()].filter((c): c is SupplierConnection => c.role === 'supplier');
export const marketsOf = (shop: ShopTerms) =>
  [...shop.connections.values()]
    .filter((c): c is MarketConnection => c.role === 'marketplace')
    .sort((a, b) => a.connectedAt - b.connectedAt);
