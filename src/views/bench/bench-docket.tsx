'use client';
import { useState } from 'react';
import { optionsInWords } from '../../core/catalogue';
import { formatMinor, parsePrice } from '../../core/money';
import { stepInWords } from '../../core/pricing';
import { AmountField } from '../../ui/amount-field';
import { Button } from '../../ui/button';
import { useNow } from '../../ui/clock';
import { Docket } from '../../ui/docket';
import { Notice, Section } from '../../ui/head';
import { History } from '../../ui/history';
import { ListingFields } from '../../ui/listing-fields';
import { PriceStrip } from '../../ui/price-strip';
import { say } from '../../ui/said';
import { SumTable } from '../../ui/sum-table';
import { SupplierText } from '../../ui/supplier-text';
import type { BenchInFull } from '../../work/assortment/bench-list';
import { theShop } from '../../work/clients';
import type { Listing } from '../../work/model';
import { brandOf, titleOf } from '../../work/shop/copy';
import { historyOf } from '../../work/shop/full-listing';
import { planFor } from '../../work/shop/plan-choice';
import type { ShopTerms } from '../../work/shop/quote';

/**
 * One product on the Bench: what it lacks, its text, category and plan, the price of each variant with the
 * full sum.
 */
export function BenchDocket({
  row,
  shop,
  onClose,
}: {
  row: BenchInFull;
  shop: ShopTerms;
  onClose: () => void;
}) {
  const { product, standing, site } = row;
  const now = useNow();
  const [at, setAt] = useState(0);
  const variant = standing.variants[Math.min(at, standing.variants.length - 1)];
  const listing: Listing | undefined = variant?.listing ?? row.listings[0];
  const currency = site?.currency ?? 'GBP';
  const quote = variant?.quote;
  const first = row.full[0]!;
  const full = variant?.full ?? first;
  const plan = planFor(shop.plans, full);
  const ids = row.listings.map((l) => l.id);
  const title = titleOf(first);
  const { mends } = row;
  const chosen = first.listing.category;

  const approveAndPublish = async () => {
    await theShop().approve(ids);
    const done = await theShop().publish(ids);
    await say(`${title}: ${done.queued} on the way.`);
  };
  return (
    <Docket label="Product on the Bench" onClose={onClose}>
      <h2 className="text-base font-semibold">{title}</h2>
      <p className="text-xs text-muted">
        {brandOf(first)} · {product.taken.category} · {shop.connections.get(product.supplier)?.name}
      </p>
      {row.refused > 0 && (
        <Notice tone="loss">
          {row.listings.find((l) => l.state === 'refused')?.last?.says} Fix it below, then approve and publish
          again.
        </Notice>
      )}
      {standing.missing.length > 0 && (
        <Notice>
          <b className="font-semibold">What {site?.name} still misses</b>
          <ul className="mt-1 list-disc pl-4">
            {[...new Map(standing.missing.map((m) => [m.reason, m])).values()].map((m) => (
              <li key={m.reason}>{m.reason}</li>
            ))}
          </ul>
          {mends.map((m) => (
            <Button
              key={m.field}
              kind="text"
              onClick={() =>
                theShop().applyCells([{ listing: first.listing.id, field: m.field, text: m.fix }], 'Mended')
              }
            >
              {m.field === 'title' ? `Make it “${m.fix}”` : `Mend the ${m.field}`}
            </Button>
          ))}
        </Notice>
      )}
      {standing.ready && (
        <div className="mt-3 flex gap-2">
          <Button kind="main" onClick={approveAndPublish}>
            {!row.approved ? 'Approve and publish' : 'Publish'}
          </Button>
          {!row.approved && (
            <Button
              onClick={async () => {
                await theShop().approve(ids);
                await say(`${title} approved.`, { undo: true });
              }}
            >
              Approve
            </Button>
          )}
        </div>
      )}

      {row.listings.length > 1 && (
        <Section title={`${row.listings.length} variants`}>
          <table className="w-full text-[13px]">
            <tbody>
              {standing.variants.map((v, i) => (
                <tr key={v.listing.id} className={i === at ? 'bg-chosen' : ''}>
                  <th scope="row" className="py-0.5 text-left font-normal">
                    <button
                      type="button"
                      aria-pressed={i === at}
                      className="text-river hover:underline"
                      onClick={() => setAt(i)}
                    >
                      {optionsInWords(v.full.variant.options) || v.listing.sku}
                    </button>
                  </th>
                  <td className="text-right">
                    {v.quote?.price ? formatMinor(v.quote.price, currency) : 'none'}
                  </td>
                  <td className="pl-2 text-right text-muted">{v.full.item?.stock ?? 0} in stock</td>
                </tr>
              ))}
            </tbody>
          </table>
        </Section>
      )}
      <Section
        title={`Price on ${site?.name ?? 'the marketplace'}${listing && row.listings.length > 1 ? `, ${optionsInWords(full.variant.options)}` : ''}`}
      >
        {quote?.sum && quote.deductions ? (
          <>
            <PriceStrip
              large
              sum={quote.sum}
              breakEven={quote.breakEven}
              currency={currency}
              map={quote.map}
              msrp={quote.msrp}
            />
            <SumTable
              sum={quote.sum}
              deductions={quote.deductions}
              breakEven={quote.breakEven}
              currency={currency}
            />
            {quote.by === 'plan' && quote.answer?.ok && (
              <ul className="mt-2 list-disc pl-4 text-[13px] text-muted">
                {quote.answer.steps.map((s) => (
                  <li key={s.rule}>{stepInWords(s, plan!, currency)}</li>
                ))}
              </ul>
            )}
          </>
        ) : (
          <p className="text-[13px] text-muted">{quote?.problem ?? 'No price yet.'}</p>
        )}
        {listing && (
          <div className="mt-2 flex items-end gap-3">
            <AmountField
              label="Own price"
              optional
              value={listing.ownPrice}
              placeholder="by plan"
              write={(n) => formatMinor(n, currency)}
              parse={(t) => parsePrice(t, currency)}
              onChange={(price) => theShop().setOwnPrice(listing.id, price)}
            />
            {listing.ownPrice !== null && (
              <Button onClick={() => theShop().setOwnPrice(listing.id, null)}>Follow the plan</Button>
            )}
          </div>
        )}
      </Section>

      <Section title={`Listing on ${site?.name ?? 'the marketplace'}`}>
        <ListingFields full={full} shop={shop} />
      </Section>
      <Section title="Supplier’s original and ours">
        <SupplierText product={product} category={chosen} now={now} zone={shop.settings.zone} />
      </Section>
      <Section title="History">
        <History of={historyOf(full)} now={now} zone={shop.settings.zone} />
      </Section>
    </Docket>
  );
}
