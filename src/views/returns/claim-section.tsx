'use client';
import { useId, useState } from 'react';
import { formatMinor, formatMoney, parseMinor } from '../../core/money';
import { type AcceptedPurchase, isAccepted } from '../../core/orders';
import { whenOf } from '../../core/units';
import { AmountField } from '../../ui/amount-field';
import { Button } from '../../ui/button';
import { Section } from '../../ui/head';
import { theShop } from '../../work/desk/client';
import type { ReturnInFull } from '../../work/order-book/returns';
import type { ShopTerms } from '../../work/quoting/worth';
import type { Act } from './act';
import { CLAIM } from './words';

interface Props {
  readonly found: ReturnInFull;
  readonly shop: ShopTerms;
  readonly nameOf: (id: string) => string;
  readonly now: number;
  readonly busy: boolean;
  readonly act: Act;
}

/** What the supplier of returned goods is asked, and says. */
export function ClaimSection(props: Props) {
  const { found, shop, nameOf, now } = props;
  const { case: c, of: order } = found;
  const able = order.purchases.filter(
    (p): p is AcceptedPurchase =>
      isAccepted(p) && p.lines.some((l) => c.units.some((u) => u.line === l.line)),
  );
  const { claim } = c;
  if (!claim && (!able.length || c.closedAt !== null)) return null;
  const p = claim
    ? order.purchases.find((one) => one.supplier === claim.supplier && one.reference === claim.reference)
    : undefined;
  const money = (minor: number) => formatMoney({ minor, currency: p?.currency ?? order.currency });
  return (
    <Section title="The supplier">
      {claim && (
        <div className="text-[13.5px]">
          <p>
            {nameOf(claim.supplier)} {CLAIM[claim.state]}
            {claim.answer ? `: ${claim.answer}` : '.'}
          </p>
          <p className="text-muted">
            Asked for {claim.wants === 'refund' ? 'the money' : 'a replacement'}: “{claim.says}”
            {claim.photos.length > 0 &&
              ` With ${claim.photos.length} photograph${claim.photos.length > 1 ? 's' : ''}.`}
          </p>
          {claim.state === 'granted' && claim.answerBy !== null && now > 0 && (
            <p className="text-lamp">
              The goods have to be there by {whenOf(claim.answerBy, now, shop.settings.zone)}.
            </p>
          )}
          {(claim.credit > 0 || claim.restocking > 0) && (
            <p>
              {money(claim.credit)} credited
              {claim.restocking > 0 && `, ${money(claim.restocking)} of it kept for restocking`}.
            </p>
          )}
          {claim.tracking && (
            <p>
              Sent in its place by {claim.carrier}, <span className="font-mono">{claim.tracking}</span>.
            </p>
          )}
          {claim.outside && claim.state !== 'settled' && p && (
            <AnsweredOutside
              key={claim.state}
              {...props}
              currency={p.currency}
              name={nameOf(claim.supplier)}
            />
          )}
        </div>
      )}
      {c.closedAt === null && (!claim || claim.state === 'refused') && <ClaimForm {...props} able={able} />}
    </Section>
  );
}

function ClaimForm({ found, nameOf, busy, act, able }: Props & { able: readonly AcceptedPurchase[] }) {
  const { case: c, of: order } = found;
  const id = useId();
  const [open, setOpen] = useState(false);
  const [which, setWhich] = useState(0);
  const [wants, setWants] = useState<'refund' | 'replacement'>('refund');
  const [says, setSays] = useState('');
  const [photos, setPhotos] = useState<readonly File[]>([]);
  const p = able[which];
  if (!p) return null;
  if (!open)
    return (
      <Button onClick={() => setOpen(true)}>
        Ask {able.length === 1 ? nameOf(p.supplier) : 'a supplier'} about it
      </Button>
    );
  return (
    <form
      className="mt-1"
      onSubmit={async (e) => {
        e.preventDefault();
        const { supplier, reference } = p;
        await act(
          theShop().claimReturn(order.id, c.id, { supplier, reference }, wants, says, [...photos]),
          `${nameOf(supplier)} is asked.`,
        );
      }}
    >
      {able.length > 1 && (
        <label className="block text-xs text-muted">
          Bought from
          <select
            value={which}
            onChange={(e) => setWhich(Number(e.target.value))}
            className="block w-full rounded-sm border border-edge bg-surface px-1.5 py-1 text-sm text-ink"
          >
            {able.map((one, k) => (
              <option key={`${one.supplier} ${one.reference}`} value={k}>
                {nameOf(one.supplier)}, {one.number}
              </option>
            ))}
          </select>
        </label>
      )}
      <div role="radiogroup" aria-label="Asked for" className="mt-1 flex gap-3 text-[13.5px]">
        {(['refund', 'replacement'] as const).map((value) => (
          <label key={value} className="flex items-center gap-1.5">
            <input
              type="radio"
              name={`${id}-wants`}
              checked={wants === value}
              onChange={() => setWants(value)}
              className="accent-river"
            />
            {value === 'refund' ? 'The money' : 'A replacement'}
          </label>
        ))}
      </div>
      <label htmlFor={`${id}-says`} className="mt-1 block text-xs text-muted">
        What is wrong
      </label>
      <input
        id={`${id}-says`}
        value={says}
        maxLength={500}
        onChange={(e) => setSays(e.target.value)}
        className="block w-full rounded-sm border border-edge bg-surface px-1.5 py-1 text-[13.5px]"
      />
      <label htmlFor={`${id}-photos`} className="mt-1 block text-xs text-muted">
        Photographs, up to six
      </label>
      <input
        id={`${id}-photos`}
        type="file"
        multiple
        accept="image/jpeg,image/png,image/webp"
        onChange={(e) => setPhotos([...(e.target.files ?? [])])}
        className="block w-full text-[13px]"
      />
      <div className="mt-2 flex gap-2">
        <Button type="submit" kind="main" disabled={busy || !says.trim()}>
          Ask {nameOf(p.supplier)}
        </Button>
        <Button kind="text" onClick={() => setOpen(false)}>
          Not now
        </Button>
      </div>
    </form>
  );
}

/** What a supplier without a service answered, by a person's word. */
function AnsweredOutside({ found, busy, act, currency, name }: Props & { currency: string; name: string }) {
  const { case: c, of: order } = found;
  const [credit, setCredit] = useState<number | null>(null);
  const [restocking, setRestocking] = useState<number | null>(0);
  const field = (label: string, value: number | null, set: (n: number | null) => void) => (
    <AmountField
      label={`${label}, ${currency}`}
      value={value}
      write={(n) => formatMinor(n, currency)}
      parse={(text) => parseMinor(text, currency)}
      onChange={set}
    />
  );
  const note = (state: 'settled' | 'refused', answer: string) =>
    act(
      theShop().noteReturn(order.id, c.id, {
        claim: {
          state,
          answer,
          credit: state === 'settled' ? (credit ?? 0) : 0,
          restocking: state === 'settled' ? (restocking ?? 0) : 0,
        },
      }),
      'What it answered is on record.',
    );
  return (
    <div className="mt-1.5">
      <p className="text-lamp">Ask {name} yourself, then record what it answers.</p>
      <div className="mt-1 flex flex-wrap items-end gap-2">
        {field('Credited', credit, setCredit)}
        {field('Kept of it', restocking, setRestocking)}
        <Button disabled={busy || credit === null} onClick={() => note('settled', '')}>
          Credited
        </Button>
        <Button
          kind="text"
          disabled={busy}
          onClick={() => note('refused', 'It does not give anything back.')}
        >
          It refused
        </Button>
      </div>
    </div>
  );
}
