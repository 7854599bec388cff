'use client';
import { Fragment, useState } from 'react';
import { useForm } from 'react-hook-form';
import { formatMinor, formatMoney, parseMinor } from '../../core/money';
import {
  type Address,
  byLine,
  chargeOf,
  countUnits,
  isAccepted,
  isActive,
  isAsking,
  isCalledOff,
  isFor,
  type LineUnits,
  livingIn,
  type MakerStage,
  numberOf,
  outstanding,
  type Purchase,
  parcelsOf,
  unitsInWords,
  unitsOf,
  unpackedIn,
} from '../../core/orders';
import { countOf, whenOf } from '../../core/units';
import { Button } from '../../ui/button';
import { CopyText } from '../../ui/copy-text';
import { downloadFile } from '../../ui/download';
import { Notice } from '../../ui/head';
import { say } from '../../ui/said';
import { theShop } from '../../work/desk/client';
import type { SupplierConnection } from '../../work/model';
import type { Said } from '../../work/orders/actions';
import type { ShopTerms } from '../../work/quoting/worth';
import { giftOf, slipOf, type ToldOrder, textOf } from './buyer-words';
import { MisprintForm } from './misprint-form';
import { UnitPicker } from './unit-picker';

interface Props {
  readonly order: ToldOrder;
  readonly purchase: Purchase;
  readonly supplier: SupplierConnection | undefined;
  /** Where it goes. */
  readonly address: Address;
  readonly shop: ShopTerms;
  readonly now: number;
  readonly zone: string;
}

const STATES: Readonly<Record<Purchase['state'], string>> = {
  waiting: 'on its way',
  sent: 'sent in an order file, not confirmed',
  accepted: 'accepted',
  refused: 'refused',
  withdrawn: 'withdrawn before it was sent',
};

const STAGES: Readonly<Record<MakerStage, string>> = {
  received: 'received; it can be cancelled at no cost',
  'file checked': 'its file is checked; it can be cancelled at no cost',
  printing: 'being printed',
  made: 'made',
  sent: 'sent',
};

const stateOf = (p: Purchase) =>
  p.state === 'waiting' && p.lane === 'file'
    ? 'goes into the next order file'
    : p.state === 'waiting' && p.lane === 'by hand'
      ? 'to be ordered by hand'
      : isCalledOff(p)
        ? 'cancelled'
        : STATES[p.state];

/** One purchase: its lines, its standing, its charge and its parcels; with forms where no service reports them. */
export function PurchaseCard({ order, purchase: p, supplier, address, shop, now, zone }: Props) {
  const name = supplier?.name ?? p.supplier;
  const money = (minor: number) => formatMoney({ minor, currency: p.currency });
  const by = p.lane !== 'service' && isActive(p);
  const [number, charge] = [numberOf(p), chargeOf(p)];
  const back = order.cases.find((c) => isAsking(c) && isFor(p, c.supplier, c.reference));
  const units = countUnits(p.lines);
  const [wrong, setWrong] = useState(false);
  const sites = supplier?.sites ?? [];
  const site = (isAccepted(p) && p.site) || (sites.find((s) => s.id === p.sites?.[0])?.name ?? '');
  const backup = sites.find((s) => s.id === p.sites?.[1])?.name;
  return (
    <div
      className={`mt-1.5 rounded-sm border border-rule-soft p-2 text-[13.5px] ${isActive(p) ? '' : 'text-muted'}`}
    >
      <p>
        <b className="font-semibold">{name}</b>: {stateOf(p)}
        {number && (
          <>
            {' '}
            as <span className="font-mono">{number}</span>
          </>
        )}
        {isAccepted(p) && now > 0 && `, ${whenOf(p.acceptedAt, now, zone)}`}
      </p>
      <ul>
        {p.lines.map((l) => (
          <li key={`${l.line} ${l.item}`}>
            <span className={livingIn(p, l) > 0 ? '' : 'line-through'}>
              {l.units * l.pack} × <span className="font-mono">{l.item}</span>
            </span>
            {l.personalisation !== null && (
              <span className="text-lamp"> {textOf(order, l.personalisation)}</span>
            )}
            {l.calledOff > 0 && (
              <span className="text-lamp">
                {' '}
                {l.calledOff < l.units ? `${l.calledOff} of ${l.units} cancelled` : 'cancelled'}
              </span>
            )}
          </li>
        ))}
      </ul>
      <p className="text-muted">
        Reference <span className="font-mono">{p.reference}</span>;{' '}
        {charge
          ? `charged ${money(charge.goods)} and ${money(charge.shipping)} shipping`
          : `expected ${money(p.expected.goods)} and ${money(p.expected.shipping)} shipping`}
      </p>
      {site && (
        <p className="text-muted">
          {isAccepted(p)
            ? `Printed in ${site}`
            : `To be printed in ${site}${backup ? `, else in ${backup}` : ''}`}
          {isAccepted(p) && p.stage && isActive(p) && `: ${STAGES[p.stage]}`}
        </p>
      )}
      {parcelsOf(p).map((parcel) => (
        <p key={parcel.tracking}>
          {parcel.carrier} <span className="font-mono">{parcel.tracking}</span>
          {countUnits(parcel.inside) < units && ` with ${unitsInWords(order, parcel.inside)}`}
          {parcel.toldAt !== null ? ', marketplace notified' : ', marketplace not notified yet'}
          {parcel.toldAt === null && shop.settings.telling && shop.settings.telling.kind !== 'at once' && (
            <Button
              kind="text"
              className="py-0"
              onClick={async () => {
                const n = await theShop().tellMeantNow({ keys: [order.id] });
                await say(n ? `${countOf(n, 'parcel')} told now.` : 'No parcel of it waits to be told.');
              }}
            >
              Notify now
            </Button>
          )}
          {parcel.deliveredAt !== null && now > 0 && `, delivered ${whenOf(parcel.deliveredAt, now, zone)}`}
        </p>
      ))}
      {isAccepted(p) && p.site && parcelsOf(p).length > 0 && !wrong && (
        <Button kind="text" className="px-0" onClick={() => setWrong(true)}>
          Something came out wrong…
        </Button>
      )}
      {isAccepted(p) && wrong && (
        <MisprintForm order={order} purchase={p} maker={name} onDone={() => setWrong(false)} />
      )}
      {back && isAsking(back) && by && (
        <Notice>
          Ask {name} to cancel {unitsInWords(order, outstanding(back))}, then record the outcome.
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
      {by && !back && number === null && p.lane === 'by hand' && (
        <>
          <ToCopy order={order} purchase={p} address={address} shop={shop} />
          {p.lines.some((l) => l.print) && (
            <Button
              className="mt-2"
              onClick={async () => {
                const made = await theShop().printsToPlace(order.id, p.supplier, p.reference);
                if (made.ok) downloadFile(made.name, made.file);
                else await say(made.reason, { wrong: true });
              }}
            >
              Print files
            </Button>
          )}
          <PlacedForm order={order} purchase={p} />
        </>
      )}
      {by && !back && number !== null && unpackedIn(p).length > 0 && (
        <ParcelForm order={order} purchase={p} />
      )}
    </div>
  );
}

/** What a person types at a supplier without a service, in the order in which it is asked for there. */
function ToCopy({
  order,
  purchase: p,
  address: a,
  shop,
}: {
  order: ToldOrder;
  purchase: Purchase;
  address: Address;
  shop: ShopTerms;
}) {
  const goods = p.lines.flatMap((l): [string, string][] => {
    const words = l.personalisation === null ? '' : (order.texts[l.personalisation] ?? '');
    return [
      ['SKU', l.item],
      ['quantity', String(livingIn(p, l) * l.pack)],
      ...(words ? [['personalisation', words] as [string, string]] : []),
    ];
  });
  const parts: [string, string][] = [
    ...goods,
    ['name', a.name],
    ['street', a.line1],
    ['address line 2', a.line2],
    ['town', a.town],
    ['postcode', a.postcode],
    ['country', a.country],
    ['reference', p.reference],
    ['message', slipOf(order, shop)],
    ['gift message', giftOf(order)],
  ];
  return (
    <dl className="my-1.5 grid grid-cols-[auto_1fr] gap-x-2 border-y border-rule-soft py-1 text-[13px]">
      {parts.map(([name, text], k) =>
        text ? (
          <Fragment key={k}>
            <dt className="text-muted">{name}</dt>
            <dd className="min-w-0 break-words">
              <CopyText name={name} text={text} />
            </dd>
          </Fragment>
        ) : null,
      )}
    </dl>
  );
}

async function tell(doing: Promise<Said>, done: string): Promise<void> {
  const said = await doing;
  await say(said.ok ? done : said.reason, { wrong: !said.ok });
}

const LOOK = 'block w-full rounded-sm border border-edge bg-surface px-1.5 py-0.5 text-sm text-ink';

/** Number and charge of a purchase that was placed by hand. */
function PlacedForm({ order, purchase: p }: { order: ToldOrder; purchase: Purchase }) {
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
function ParcelForm({ order, purchase: p }: { order: ToldOrder; purchase: Purchase }) {
  const { register, handleSubmit, formState, reset } = useForm({
    defaultValues: { carrier: '', tracking: '' },
  });
  const left = unpackedIn(p);
  const [inside, setInside] = useState<readonly LineUnits[]>(left);
  const chosen = byLine(
    left.map(({ line, units }) => ({ line, units: Math.min(units, unitsOf(inside, line)) })),
  );
  const isPart = countUnits(chosen) < countUnits(left);
  const save = handleSubmit(async ({ carrier, tracking }) => {
    const parcel = { carrier: carrier.trim(), tracking: tracking.trim() };
    await tell(
      theShop().parcelOutside(order.id, p.reference, p.supplier, parcel, isPart ? chosen : null),
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
        <Button type="submit" disabled={!chosen.length}>
          Add the parcel
        </Button>
      </div>
      {countUnits(left) > 1 && (
        <UnitPicker legend="In it" order={order} most={left} chosen={inside} onChoose={setInside} />
      )}
    </form>
  );
}
