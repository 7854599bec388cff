import { soldIn } from '../../core/orders';
import { type Slip, slipOf } from '../../core/slip';
import { writtenDay } from '../../core/units';
import { buyersByOrder, ordersById, settingsOf } from '../../store';
import type { SlipsDrawn } from '../context/draw';
import type { Work } from '../context/work';
import { addressOf } from './decide';

/** The packing slips of some orders, in their order; those of erased buyers are left out. */
export async function slipsOf({ db }: Pick<Work, 'db'>, ids: readonly string[]): Promise<Slip[]> {
  const orders = await ordersById(db, ids);
  const buyers = await buyersByOrder(db, [...orders.values()]);
  const settings = await settingsOf(db);
  return ids.flatMap((id) => {
    const order = orders.get(id);
    const buyer = buyers.get(id);
    if (!order || !buyer || buyer.erasedAt !== null) return [];
    const textOf = (place: number | null) => (place === null ? '' : (buyer.texts[place] ?? ''));
    return slipOf({
      shop: settings.shop,
      contact: settings.contact ?? '',
      number: order.number,
      day: writtenDay(new Date(order.paidAt).toISOString().slice(0, 10)),
      address: addressOf(order, buyer),
      lines: order.lines
        .filter((l) => soldIn(l) > 0)
        .map((l) => ({ units: soldIn(l), title: l.title, words: textOf(l.personalisation) })),
      message: order.slip === null ? settings.slip : textOf(order.slip),
      gift: textOf(order.gift ?? null),
    });
  });
}

/** Packing slips of some orders as one PDF. @returns null where it was stopped @throws where nothing can be drawn */
export async function packingSlips(
  work: Work,
  ids: readonly string[],
  goesOn: (done: number) => boolean | Promise<boolean>,
): Promise<SlipsDrawn | null> {
  if (!work.slips) throw new Error('Packing slips cannot be drawn here.');
  return work.slips(await slipsOf(work, ids), goesOn);
}
