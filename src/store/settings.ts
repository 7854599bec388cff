import { type OrderRules, USUAL_RULES } from '../core/forwarding';
import { type ReturnRules, USUAL_RETURN_RULES } from '../core/returns';
import { STARTING_STOCK_RULE } from '../core/stock';
import type { SampanDatabase } from './database';
import type { Settings } from './rows';
import { type StatementRules, USUAL_STATEMENT_RULES } from './statements';

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

/** The rules for orders, as the seller set them or as they are at first. */
export const orderRules = ({ orders }: Pick<Settings, 'orders'>): OrderRules => orders ?? USUAL_RULES;

/** How returns are handled, as the seller set it or as it is at first. */
export const returnRules = ({ returns }: Pick<Settings, 'returns'>): ReturnRules =>
  returns ?? USUAL_RETURN_RULES;

/** What is done with account statements, as the seller set it or as it is at first. */
export const statementRules = ({ statements }: Pick<Settings, 'statements'>): StatementRules =>
  statements ?? USUAL_STATEMENT_RULES;

export async function settingsOf(db: SampanDatabase): Promise<Settings> {
  return (await db.settings.get('shop')) ?? STARTING_SETTINGS;
}
