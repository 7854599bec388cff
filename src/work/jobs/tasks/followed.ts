import type { Catalogue } from '../../../core/catalogue';
import { countOf } from '../../../core/units';
import type { Job, SupplierConnection } from '../../../store';
import { lookForNew } from '../../catalogue/watch';
import type { Work } from '../../context/work';
import { followSupplier } from '../../listings/follow';
import { recheckOrders } from '../../orders/due';
import { forget } from '../../readings/session';
import { finish } from '../run';

/** Follows a list that was read whole: listings, watched searches, waiting orders. */
export async function followReading(
  work: Work,
  c: SupplierConnection,
  job: Job,
  catalogue: Catalogue,
  says: string,
  startedAt: number,
): Promise<void> {
  const { moved, told } = await followSupplier(work, c.id, catalogue);
  await lookForNew(work, c.id, catalogue);
  await finish(
    work,
    job,
    true,
    `${says}; ${moved ? `${countOf(moved, 'item')} of what is sold moved` : 'nothing of what is sold moved'}${told ? `, ${countOf(told, 'listing')} told to the marketplaces` : ''}`,
    startedAt,
    true,
  );
  await recheckOrders(work);
}

/** A step that throws may have half done its work in memory: the next one starts from what is stored. */
export async function forgottenOnFailure(
  work: Work,
  supplier: string,
  step: () => Promise<void>,
): Promise<void> {
  try {
    await step();
  } catch (error) {
    forget(work, supplier);
    throw error;
  }
}
