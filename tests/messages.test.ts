import { usualText } from '@/core/messages';
import type { Order } from '@/store';
import { cancelOrder } from '@/work/orders/actions';
import { saveMessages, writeOfDelays } from '@/work/orders/messages';
import { readCourse } from '@/work/overview/course';
import { sell } from '../stand-ins/marketplace/market';
import { chance } from '../stand-ins/random';
import { advance } from '../stand-ins/supplier/warehouse';
import { setOut, type Voyage } from './voyage';

let v: Voyage;
let n = 0;
beforeEach(async () => {
  v = await setOut();
  await v.settle();
  await v.stockUp(6);
});
afterEach(() => v.end());

const sold = async (): Promise<Order> => {
  const made = sell(v.outside.market, chance(++n + 7), v.work.clock(), { quantity: 1 })!;
  await v.settle(61_000);
  return (await v.work.db.orders.get(`pennywharf:${made.number}`))!;
};
const on = (text: string) => ({ on: true, text });
const written = () => (v.outside.market.messages ?? []).map((m) => [m.number, m.text]);

test('a buyer is written to once at each event that is on, whatever is heard again or lost on the way', async () => {
  await saveMessages(v.work, {
    pennywharf: {
      thanks: on('Dear {{first name}}, {{order}} is noted. {{shop}}'),
      shipped: on('{{tracking}} with {{carrier}}'),
      delivered: { on: false, text: 'Arrived' },
    },
  });
  // The answer to the first message is lost: it goes again with the same key.
  v.outside.faults.pennywharf.set({ loseAnswers: 1 });
  const order = await sold();
  await v.settle(HOUR);
  const buyer = (await v.work.db.buyers.get(order.id))!;
  const thanks = `Dear ${buyer.name.split(' ')[0]}, ${order.number} is noted. Dusk & Dipper`;
  expect(written()).toEqual([[order.number, thanks]]);
  // What waits, and what was sent, names nobody: the buyer is filled in when it leaves.
  const rows = await v.work.db.outbox.filter((r) => r.kind === 'message').toArray();
  expect(JSON.stringify(rows)).not.toContain(buyer.name.split(' ')[0]!);

  const [p] = v.outside.warehouse.purchases;
  advance(v.outside.warehouse, p!.number, v.work.clock(), 1000);
  await v.settle(HOUR);
  await v.work.db.health.update('brackwater', { cursor: null });
  await v.settle(HOUR);
  const parcel = p!.parcels[0]!;
  expect(written()).toEqual([
    [order.number, thanks],
    [order.number, `${parcel.tracking} with ${parcel.carrier}`],
  ]);
});

const HOUR = 3_600_000;

test('late orders and cancelled ones are written of; a refused message needs a person', async () => {
  await saveMessages(v.work, { pennywharf: { delayed: on('Sorry, {{goods}}'), cancelled: on('Gone') } });
  const [late, gone] = [await sold(), await sold()];
  await v.settle(47 * HOUR);
  expect(await writeOfDelays(v.work)).toBe(0);
  await v.settle(2 * HOUR);
  await writeOfDelays(v.work);
  expect(await writeOfDelays(v.work)).toBe(0);
  await cancelOrder(v.work, gone!.id, 'No more of it.');
  await v.settle(HOUR);
  expect(written()).toEqual([
    [late!.number, `Sorry, ${late!.lines[0]!.title}`],
    [gone!.number, `Sorry, ${gone!.lines[0]!.title}`],
    [gone!.number, 'Gone'],
  ]);
  await saveMessages(v.work, { pennywharf: { thanks: on('x'.repeat(4001)) } });
  const order = await sold();
  const { needs } = await readCourse(v.work);
  expect(needs.map((need) => need.what)).toContain(`A message to the buyer of ${order.number} was refused`);
});

test('a template that names no field of an order, or cannot be read, is not kept', async () => {
  await expect(saveMessages(v.work, { pennywharf: { thanks: on('{{colour}}') } })).rejects.toThrow(/colour/);
  await expect(saveMessages(v.work, { pennywharf: { thanks: on('{{#goods}}') } })).rejects.toThrow();
  for (const language of ['en', 'de', 'fr', 'nl', 'pl', 'es', 'it']) {
    const rules = Object.fromEntries(
      (['thanks', 'shipped', 'delayed', 'delivered', 'cancelled'] as const).map((k) => [
        k,
        on(usualText(k, language)),
      ]),
    );
    await saveMessages(v.work, { pennywharf: rules });
  }
});
