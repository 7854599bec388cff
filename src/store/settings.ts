import { STARTING_STOCK_RULE } from '../core/stock';
import type { SampanDatabase } from './database';
import type { Settings } from './rows';

export const STARTING_SETTINGS: Settings = {
  id: 'shop',
  shop: '',
  zone: 'UTC',
  slip: '',
  sku: '{sku}',
  forward: 'at once',
  stock: STARTING_STOCK_RULE,
  currency: 'GBP',
  cushion: 20_000,
  costTax: 0,
  keepDays: 400,
};

export async function settingsOf(db: SampanDatabase): Promise<Settings> {
  return (await db.settings.get('shop')) ?? STARTING_SETTINGS;
}
