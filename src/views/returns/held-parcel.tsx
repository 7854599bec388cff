'use client';
import { useState } from 'react';
import { useForm } from 'react-hook-form';
import { formatMoney } from '../../core/money';
import type { Address } from '../../core/orders';
import { spanOf } from '../../core/units';
import { useAnswer } from '../../ui/answer';
import { Button } from '../../ui/button';
import { theShop } from '../../work/desk/client';
import type { ReturnInFull } from '../../work/order-book/returns';
import { nameIn, type ShopTerms } from '../../work/quoting/worth';
import { AddressFields } from '../orders/address-fields';
import type { Act } from './act';

/** A parcel that came back: it is sent again to the address, mended or not, or the buyer is refunded. */
export function HeldParcel({
  found,
  shop,
  now,
  busy,
  act,
}: {
  found: ReturnInFull;
  shop: ShopTerms;
  now: number;
  busy: boolean;
  act: Act;
}) {
  const { case: c, of: order, left } = found;
  const full = useAnswer(() => theShop().order(order.id), [order.id]);
  const [mends, setMends] = useState(false);
  const parcel = c.parcel!;
  const supplier = nameIn(shop)(parcel.supplier);
  const until = parcel.heldUntil;
  const address = full?.buyer.addresses[order.address];
  return (
    <div className="my-2.5 border-l-[3px] border-lamp bg-lamp-soft px-2.5 py-2 text-[13.5px]">
      <p>
        {supplier} has the parcel <span className="font-mono">{parcel.tracking}</span>
        {until !== null && now > 0 && (
          <b className="ml-1 font-semibold">
            {until > now
              ? `and holds it ${spanOf(until - now)} more.`
              : `and held it until ${spanOf(now - until)} ago.`}
          </b>
        )}
      </p>
      {address && !mends && (
        <p className="mt-1 text-muted">
          {[address.name, address.line1, address.line2, address.town, address.postcode, address.country]
            .filter(Boolean)
            .join(', ')}
        </p>
      )}
      {mends && address ? (
        <MendForm
          address={address}
          busy={busy}
          onCancel={() => setMends(false)}
          onSend={(to) => act(theShop().sendParcelAgain(order.id, c.id, to), 'It is sent again.')}
        />
      ) : (
        <div className="mt-1.5 flex flex-wrap gap-2">
          <Button
            kind="main"
            disabled={busy}
            onClick={() => act(theShop().sendParcelAgain(order.id, c.id, null), 'It is sent again.')}
          >
            Send it again
          </Button>
          <Button disabled={busy || !address} onClick={() => setMends(true)}>
            Mend the address first
          </Button>
          {left > 0 && (
            <Button
              disabled={busy}
              onClick={() =>
                act(
                  theShop().answerReturn(order.id, c.id, {
                    answer: 'refund',
                    minor: Math.min(found.paid, left),
                    label: 'buyer',
                    says: 'Undeliverable',
                  }),
                  'The buyer is refunded.',
                )
              }
            >
              Refund {formatMoney({ minor: Math.min(found.paid, left), currency: order.currency })}
            </Button>
          )}
        </div>
      )}
      <p className="mt-1 text-xs text-muted">Sending it again costs its shipping anew.</p>
    </div>
  );
}

function MendForm({
  address,
  busy,
  onCancel,
  onSend,
}: {
  address: Address;
  busy: boolean;
  onCancel: () => void;
  onSend: (to: Address) => void;
}) {
  const { register, handleSubmit, formState } = useForm<Address>({ defaultValues: address });
  return (
    <form className="mt-1.5 space-y-1" onSubmit={handleSubmit(onSend)}>
      <AddressFields register={register} errors={formState.errors} />
      <div className="flex gap-2 pt-1">
        <Button type="submit" kind="main" disabled={busy}>
          Send it there
        </Button>
        <Button kind="text" onClick={onCancel}>
          Not now
        </Button>
      </div>
    </form>
  );
}
