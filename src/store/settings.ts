import { STARTING_STOCK_RULE } from '../core/stock';
import type { SampanDatabase } from './database';
import type { Settings } from './rows';

export const STARTING_SETTINGS: Settings = {
  id: 'shop',
  shop: 'Dusk & Dipper',
  zone: 'Europe/London',
  slip: 'Clear skies from Dusk & Dipper',
  forward: 'at once',
  stock: STARTING_STOCK_RULE,
};

export async function settingsOf(db: SampanDatabase): Promise<Settings> {
  return (await db.settings.get('shop')) ?? STARTING_SETTINGS;
}
