'use client';
import Link from 'next/link';
import { useId, useState } from 'react';
import {
  byLine,
  isReturn,
  type LineUnits,
  RETURN_KINDS,
  type ReturnKind,
  returnedUnits,
  returnStep,
} from '../../core/orders';
import { reasonById, USUAL_RETURN_RULES } from '../../core/returns';
import { Button } from '../../ui/button';
import { Section } from '../../ui/head';
import { theShop } from '../../work/desk/client';
import { nameIn, type ShopTerms } from '../../work/quoting/worth';
import { awaited, KIND, STEP } from '../returns/words';
import type { ToldOrder } from './buyer-words';
import type { Act } from './order-acts';
import { UnitPicker } from './unit-picker';

/** What a seller opens by hand: what carriers and banks say comes by itself. */
const OPENED = RETURN_KINDS.filter((k) => k === 'return' || k === 'refund' || k === 'not received');

/** The returns of an order, and the way to open one that a buyer told of. */
export function OrderReturns({ order, shop, act }: { order: ToldOrder; shop: ShopTerms; act: Act }) {
  const [opening, setOpening] = useState(false);
  const nameOf = nameIn(shop);
  const { reasons } = shop.settings.returns ?? USUAL_RETURN_RULES;
  const returns = order.cases.filter(isReturn);
  const sent = order.elsewhere || order.purchases.some((p) => p.state === 'accepted' && p.parcels.length > 0);
  const most = byLine(
    order.lines.map((l) => ({
      line: l.id,
      units: l.quantity - l.cancelled - returnedUnits(order.cases, l.id),
    })),
  );
  if (!returns.length && !sent) return null;
  return (
    <Section
      title="Returns"
      aside={
        sent && most.length > 0 && !opening ? (
          <Button kind="text" className="py-0" onClick={() => setOpening(true)}>
            Open a return
          </Button>
        ) : null
      }
    >
      {returns.map((c) => {
        const step = returnStep(c);
        const supplier = c.claim?.supplier ?? c.parcel?.supplier;
        return (
          <p key={c.id} className="text-[13.5px]">
            <Link
              href={`/orders/returns?row=${encodeURIComponent(`${order.id} ${c.id}`)}${c.closedAt === null ? '' : '&show=closed'}`}
              className="text-river hover:underline"
            >
              {KIND[c.what]}
            </Link>
            , {reasonById(reasons, c.reason).name.toLowerCase()}:{' '}
            <span className={step ? 'font-semibold text-lamp' : 'text-muted'}>
              {step ? STEP[step] : awaited(c, supplier ? nameOf(supplier) : '')}
            </span>
          </p>
        );
      })}
      {!returns.length && !opening && <p className="text-[13.5px] text-muted">Nothing came back.</p>}
      {opening && (
        <OpenReturn order={order} shop={shop} most={most} act={act} onDone={() => setOpening(false)} />
      )}
    </Section>
  );
}

function OpenReturn({
  order,
  shop,
  most,
  act,
  onDone,
}: {
  order: ToldOrder;
  shop: ShopTerms;
  most: readonly LineUnits[];
  act: Act;
  onDone: () => void;
}) {
  const id = useId();
  const { reasons } = shop.settings.returns ?? USUAL_RETURN_RULES;
  const [what, setWhat] = useState<ReturnKind>('return');
  const [units, setUnits] = useState<readonly LineUnits[]>(most.slice(0, 1).map((u) => ({ ...u, units: 1 })));
  const [reason, setReason] = useState(reasons[0]!.id);
  const [says, setSays] = useState('');
  return (
    <form
      className="mt-1"
      onSubmit={async (e) => {
        e.preventDefault();
        await act(
          theShop().openReturn(order.id, { what, units, reason }, says),
          'The return is open: answer it under Returns.',
        );
        onDone();
      }}
    >
      <div role="radiogroup" aria-label="What it is" className="flex flex-wrap gap-3 text-[13.5px]">
        {OPENED.map((kind) => (
          <label key={kind} className="flex items-center gap-1.5">
            <input
              type="radio"
              name={`${id}-what`}
              checked={what === kind}
              onChange={() => setWhat(kind)}
              className="accent-river"
            />
            {KIND[kind]}
          </label>
        ))}
      </div>
      <UnitPicker legend="Which" order={order} most={most} chosen={units} onChoose={setUnits} />
      <label className="mt-1 block text-xs text-muted">
        Reason
        <select
          value={reason}
          onChange={(e) => setReason(e.target.value)}
          className="block w-full rounded-sm border border-edge bg-surface px-1.5 py-1 text-sm text-ink"
        >
          {reasons.map((r) => (
            <option key={r.id} value={r.id}>
              {r.name}
            </option>
          ))}
        </select>
      </label>
      <label className="mt-1 block text-xs text-muted">
        What the buyer said
        <input
          value={says}
          maxLength={2000}
          onChange={(e) => setSays(e.target.value)}
          className="block w-full rounded-sm border border-edge bg-surface px-1.5 py-1 text-sm text-ink"
        />
      </label>
      <div className="mt-2 flex gap-2">
        <Button type="submit" kind="main" disabled={!units.length}>
          Open it
        </Button>
        <Button kind="text" onClick={onDone}>
          Not now
        </Button>
      </div>
    </form>
  );
}
