import type { Connection, Job, MarketConnection, SupplierConnection } from '../../../store';
import type { Work } from '../../context/work';
import { catalogueStep } from './catalogue';
import { driftStep } from './drift';
import { feedStep } from './feed';
import { forgottenOnFailure } from './followed';
import { forwardingStep } from './forwarding';
import { listStep } from './list';
import { listingsStep } from './listings';
import { ordersStep } from './orders';
import { pricesStep } from './prices';
import { shipmentsStep } from './shipments';
import { siteStep } from './site';
import { statementsStep } from './statements';
import { tidyStep } from './tidy';

/** The step of a task for its subject; a run may take many steps. */
export type TaskSteps =
  | {
      readonly of: 'supplier';
      readonly step: (work: Work, c: SupplierConnection, job: Job) => Promise<void>;
    }
  | {
      readonly of: 'marketplace';
      readonly step: (work: Work, c: MarketConnection, job: Job) => Promise<void>;
    }
  | {
      readonly of: 'connection';
      readonly step: (work: Work, c: Connection, job: Job) => Promise<void>;
    }
  | { readonly of: 'shop'; readonly step: (work: Work, job: Job) => Promise<void> };

/** Every task that moves by itself, and whose it is. How often and by which name: `TASKS` of the schedule. */
export const STEPS: Readonly<Record<Job['task'], TaskSteps>> = {
  catalogue: {
    of: 'supplier',
    step: (work, c, job) =>
      forgottenOnFailure(work, c.id, () => (c.list ? listStep : catalogueStep)(work, c, job)),
  },
  list: {
    of: 'supplier',
    step: (work, c, job) => forgottenOnFailure(work, c.id, () => listStep(work, c, job)),
  },
  shipments: { of: 'supplier', step: shipmentsStep },
  listings: { of: 'marketplace', step: listingsStep },
  drift: { of: 'marketplace', step: driftStep },
  orders: { of: 'marketplace', step: ordersStep },
  site: { of: 'marketplace', step: siteStep },
  statements: { of: 'connection', step: statementsStep },
  prices: { of: 'shop', step: pricesStep },
  forwarding: { of: 'shop', step: forwardingStep },
  feed: { of: 'shop', step: feedStep },
  tidy: { of: 'shop', step: tidyStep },
};
