'use client';
import { type Address, type Buyer, mayDo, mendedAddress } from '../../core/orders';
import { Button } from '../../ui/button';
import { theShop } from '../../work/desk/client';
import type { Order } from '../../work/model';
import type { Act } from './order-acts';

const PARTS = ['line1', 'line2', 'town', 'postcode'] as const;

/** How the address would be written so that it is right, where that is known: taken by a person's word alone. */
export function AddressProposal({ order, buyer, act }: { order: Order; buyer: Buyer; act: Act }) {
  const failed = order.checks.find((c) => c.kind === 'address' && !c.passed);
  const address = buyer.addresses[order.address];
  if (failed?.kind !== 'address' || !failed.problem || !address || !mayDo('edit', order)) return null;
  const longest = failed.problem.why === 'long' ? failed.problem.longest : undefined;
  const mended = mendedAddress(address, longest);
  if (!mended) return null;
  const shown = (a: Address) => PARTS.flatMap((part) => a[part] || []).join(', ');
  return (
    <div className="mt-1.5 text-[13.5px]">
      Perhaps <b className="font-semibold">{shown(mended)}</b>?{' '}
      <Button
        onClick={() =>
          act(
            theShop().editOrder(order.id, { address: mended }),
            `${order.number} goes to ${mended.postcode} ${mended.town}, and is checked again.`,
            true,
          )
        }
      >
        Use this
      </Button>
    </div>
  );
}
