import type { WireItem } from '../../src/connect/wire';

/** What a warehouse knows of an item before anything moved. Amounts in minor units. */
export interface StockedItem extends Omit<WireItem, 'cost' | 'map' | 'msrp'> {
  cost: number;
  map: number | null;
  msrp: number | null;
}
