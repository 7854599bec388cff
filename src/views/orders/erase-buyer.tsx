'use client';
import { useState } from 'react';
import type { Buyer } from '../../core/orders';
import { countOf, whenOf } from '../../core/units';
import { Button } from '../../ui/button';
import { Notice, Section } from '../../ui/head';
import { say } from '../../ui/said';
import { theShop } from '../../work/desk/client';
import type { Order } from '../../work/model';

/** Erases who bought an order that is over, in all orders of that person. */
export function EraseBuyer({
  order,
  buyer,
  now,
  zone,
}: {
  order: Order;
  buyer: Buyer;
  now: number;
  zone: string;
}) {
  /** Orders of the same person; null while nothing was asked. */
  const [orders, setOrders] = useState<number | null>(null);
  if (buyer.erasedAt !== null)
    return (
      <Section title="Buyer">
        <p className="text-[13.5px] text-muted">
          Name, address and words were erased{now > 0 && ` ${whenOf(buyer.erasedAt, now, zone)}`}.
        </p>
      </Section>
    );
  if (order.open) return null;
  const erase = async () => {
    setOrders(null);
    const { erased, kept } = await theShop().eraseBuyer(order.id);
    const left = kept.length
      ? ` ${countOf(kept.length, 'order')} that ${kept.length === 1 ? 'is' : 'are'} not over yet kept it.`
      : '';
    await say(`The buyer’s data was erased in ${countOf(erased, 'order')}.${left}`);
  };
  return (
    <Section title="Buyer">
      {orders === null ? (
        <Button kind="text" onClick={async () => setOrders(await theShop().countOfBuyer(order.id))}>
          Erase the buyer’s data…
        </Button>
      ) : (
        <Notice>
          Name, addresses, mail and words of {buyer.name} are erased for good,{' '}
          {orders > 1 ? `in ${countOf(orders, 'order')} with this mail address` : 'in this order'}. Amounts,
          goods, dates and the country stay. This cannot be undone.
          <div className="mt-2 flex gap-2">
            <Button kind="main" onClick={erase}>
              Erase
            </Button>
            <Button onClick={() => setOrders(null)}>Keep</Button>
          </div>
        </Notice>
      )}
    </Section>
  );
}
