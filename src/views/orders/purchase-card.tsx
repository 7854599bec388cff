'use client';
import { useState } from 'react';
import { useForm } from 'react-hook-form';
import { formatMinor, formatMoney, parseMinor } from '../../core/money';
import { isActive, linesIn, type Purchase } from '../../core/orders';
import { whenOf } from '../../core/units';
import { Button } from '../../ui/button';
import { Notice } from '../../ui/head';
import { say } from '../../ui/said';
import { theShop } from '../../work/clients';
import type { Order, SupplierConnection } from '../../work/model';
import type { Said } from '../../work/orders/actions';

interface Props {
  readonly order: Order;
  readonly purchase: Purchase;
  readonly supplier: SupplierConnection | undefined;
  readonly now: number;
  readonly zone: string;
}

const STATES: Readonly<Record<Purchase['state'], string>> = {
  waiting: 'on its way',
  sent: 'sent in an order file, not confirmed',
  accepted: 'accepted',
  refused: 'refused',
  withdrawn: 'withdrawn before it was sent',
  cancelled: 'cancelled',
};

const stateOf = (p: Purchase) =>
  p.state === 'waiting' && p.lane === 'file'
    ? 'goes into the next order file'
    : p.state === 'waiting' && p.lane === 'by hand'
      ? 'to be ordered by hand'
      : STATES[p.state];

/** What one supplier gets, where it stands, what it charges and what it sent; forms for what no service says. */
export function PurchaseCard({ order, purchase: p, supplier, now, zone }: Props) {
  const name = supplier?.name ?? p.supplier;
  const money = (minor: number) => formatMoney({ minor, currency: p.currency });
  const by = p.lane !== 'service' && isActive(p);
  return (
    <div
      className={`mt-1.5 rounded-sm border border-rule-soft p-2 text-[13.5px] ${isActive(p) ? '' : 'text-muted'}`}
    >
      <p>
        <b className="font-semibold">{name}</b>: {stateOf(p)}
        {p.number && (
          <>
            {' '}
            as <span className="font-mono">{p.number}</span>
          </>
        )}
        {p.acceptedAt !== null && now > 0 && `, ${whenOf(p.acceptedAt, now, zone)}`}
      </p>
      <ul>
        {p.lines.map((l) => (
          <li key={l.line} className={l.cancelledAt === null ? '' : 'line-through'}>
            {l.quantity} × <span className="font-mono">{l.item}</span>
            {l.personalisation && <span className="text-lamp"> “{l.personalisation}”</span>}
          </li>
        ))}
      </ul>
      <p className="text-muted">
        Reference <span className="font-mono">{p.reference}</span>;{' '}
        {p.charged
          ? `charged ${money(p.charged.goods)} and ${money(p.charged.shipping)} shipping`
          : `expected ${money(p.expected.goods)} and ${money(p.expected.shipping)} shipping`}
      </p>
      {p.parcels.map((parcel) => (
        <p key={parcel.tracking}>
          {parcel.carrier} <span className="font-mono">{parcel.tracking}</span>
          {parcel.lines && p.lines.length > 1 && ` with ${parcel.lines.length} of ${p.lines.length} lines`}
          {parcel.toldAt !== null ? ', marketplace told' : ', marketlocation not stated yet'}
          {parcel.deliveredAt !== null && now > 0 && `, delivered ${whenOf(parcel.deliveredAt, now, zone)}`}
        </p>
      ))}
      {p.recall?.state === 'asked' && by && (
        <Notice>
          Ask {name} to cancel it, then record the outcome.
          <div className="mt-2 flex gap-2">
            <Button
              kind="main"
              onClick={() =>
                tell(theShop().recallOutside(order.id, p.reference, p.supplier, true), 'Recorded: cancelled.')
              }
            >
              It was cancelled
            </Button>
            <Button
              onClick={() =>
                tell(
                  theShop().recallOutside(order.id, p.reference, p.supplier, false),
                  'Recorded: not cancelled.',
                )
              }
            >
              It was not
            </Button>
          </div>
        </Notice>
      )}
      {by && p.recall === null && p.number === null && p.lane === 'by hand' && (
        <PlacedForm order={order} purchase={p} />
      )}
      {by && p.recall === null && p.number !== null && !p.complete && (
        <ParcelForm order={order} purchase={p} />
      )}
    </div>
  );
}

async function tell(doing: Promise<Said>, done: string): Promise<void> {
  const said = await doing;
  await say(said.ok ? done : said.reason, { wrong: !said.ok });
}

const LOOK = 'block w-full rounded-sm border border-edge bg-surface px-1.5 py-0.5 text-sm text-ink';

/** Number and charge of a purchase that was placed by hand. */
function PlacedForm({ order, purchase: p }: { order: Order; purchase: Purchase }) {
  const { register, handleSubmit, formState, setError } = useForm({
    defaultValues: {
      number: '',
      goods: formatMinor(p.expected.goods, p.currency),
      shipping: formatMinor(p.expected.shipping, p.currency),
    },
  });
  const save = handleSubmit(async (f) => {
    const [goods, shipping] = [parseMinor(f.goods, p.currency), parseMinor(f.shipping, p.currency)];
    if (!goods.ok || goods.value < 0)
      return setError('goods', { message: goods.ok ? 'Not below zero' : goods.reason });
    if (!shipping.ok || shipping.value < 0)
      return setError('shipping', { message: shipping.ok ? 'Not below zero' : shipping.reason });
    const said = { number: f.number.trim(), goods: goods.value, shipping: shipping.value };
    await tell(
      theShop().placedOutside(order.id, p.reference, p.supplier, said),
      `${order.number}: ordered as ${said.number}.`,
    );
  });
  const field = (name: 'number' | 'goods' | 'shipping', label: string) => (
    <label className="text-xs text-muted">
      {label}
      <input {...register(name, { required: `${label} is missing`, maxLength: 64 })} className={LOOK} />
      {formState.errors[name] && <span className="text-loss">{formState.errors[name].message}</span>}
    </label>
  );
  return (
    <form onSubmit={save} className="mt-2 grid grid-cols-[1fr_5rem_5rem_auto] items-end gap-2">
      {field('number', 'Its order number')}
      {field('goods', `Goods ${p.currency}`)}
      {field('shipping', 'Shipping')}
      <Button kind="main" type="submit">
        Ordered
      </Button>
    </form>
  );
}

/** A parcel of a purchase without a service. */
function ParcelForm({ order, purchase: p }: { order: Order; purchase: Purchase }) {
  const { register, handleSubmit, formState, reset } = useForm({
    defaultValues: { carrier: '', tracking: '' },
  });
  const packed = new Set(p.parcels.flatMap((one) => one.lines ?? []));
  const left = linesIn(p).filter((l) => !packed.has(l.line));
  const [inside, setInside] = useState<readonly string[]>([]);
  const chosen = inside.filter((id) => left.some((l) => l.line === id));
  const save = handleSubmit(async ({ carrier, tracking }) => {
    const part = chosen.length > 0 && chosen.length < left.length ? chosen : null;
    const parcel = { carrier: carrier.trim(), tracking: tracking.trim() };
    await tell(
      theShop().parcelOutside(order.id, p.reference, p.supplier, parcel, part),
      `${order.number}: ${parcel.tracking} noted.`,
    );
    reset();
  });
  return (
    <form onSubmit={save} className="mt-2">
      <div className="grid grid-cols-[1fr_1fr_auto] items-end gap-2">
        {(['carrier', 'tracking'] as const).map((name) => (
          <label key={name} className="text-xs text-muted">
            {name === 'carrier' ? 'Carrier' : 'Tracking number'}
            <input {...register(name, { required: 'Needed', maxLength: 80 })} className={LOOK} />
            {formState.errors[name] && <span className="text-loss">{formState.errors[name].message}</span>}
          </label>
        ))}
        <Button type="submit">Add the parcel</Button>
      </div>
      {left.length > 1 && (
        <fieldset className="mt-1 text-xs text-muted">
          <legend>In it, where not all</legend>
          {left.map((l) => (
            <label key={l.line} className="mr-3">
              <input
                type="checkbox"
                checked={chosen.includes(l.line)}
                onChange={(e) =>
                  setInside(e.target.checked ? [...chosen, l.line] : chosen.filter((id) => id !== l.line))
                }
                className="mr-1 accent-river"
              />
              <span className="font-mono">{l.item}</span>
            </label>
          ))}
        </fieldset>
      )}
    </form>
  );
}
