'use client';
import { formatMinor, parsePrice } from '../../core/money';
import { stepInWords } from '../../core/pricing';
import { whenOf } from '../../core/units';
import { AmountField } from '../../ui/amount-field';
import { Button } from '../../ui/button';
import { Docket } from '../../ui/docket';
import { Notice, Section } from '../../ui/head';
import { History } from '../../ui/history';
import { LinkEditor } from '../../ui/link-editor';
import { PriceStrip } from '../../ui/price-strip';
import { say } from '../../ui/said';
import { StockStack } from '../../ui/stock-stack';
import { SumTable } from '../../ui/sum-table';
import { SupplierText } from '../../ui/supplier-text';
import { work } from '../../work/browser';
import { setOwnPrice } from '../../work/listings/bench';
import { marketOf, planOf, type Shop } from '../../work/shop/quote';
import type { ListingRow } from './rows';

/**
 * One listing in full: its sum at the price buyers see, why that price, its stock, everything that happened
 * to it.
 */
export function ListingDocket({
  row,
  shop,
  now,
  onClose,
}: {
  row: ListingRow;
  shop: Shop;
  now: number;
  onClose: () => void;
}) {
  const { listing, product, quote, sum } = row;
  const market = marketOf(shop, listing.marketplace);
  const currency = market?.site.currency ?? 'GBP';
  const plan = planOf(shop, product.plan);
  const m = (minor: number) => formatMinor(minor, currency);
  const planned = quote?.answer?.ok ? quote.answer.price : null;
  const own = async (price: number | null) => {
    await setOwnPrice(work, listing, price);
    await say(
      price === null ? `${listing.sku} follows its plan again.` : `${listing.sku} is offered at ${m(price)}.`,
      {
        undo: true,
      },
    );
  };
  return (
    <Docket label="Listing" onClose={onClose}>
      <h2 className="text-base font-semibold">{row.title}</h2>
      <p className="text-xs text-muted">
        <span className="font-mono">{listing.sku}</span> · {market?.name}
        {listing.item && (
          <>
            {' '}
            · {shop.connections.get(listing.supplier)?.name} <span className="font-mono">{listing.item}</span>
          </>
        )}
      </p>
      {listing.problem && (
        <Notice>
          <b className="font-semibold">Held at {listing.told ? m(listing.told.price) : 'its price'}.</b>{' '}
          {listing.problem} Give it an own price below, or change the plan or its guards.
        </Notice>
      )}
      {sum && sum.profit < 0 && listing.state === 'live' && (
        <Notice tone="loss">
          <b className="font-semibold">Each sale loses {m(-sum.profit)}.</b>{' '}
          {listing.ownPrice !== null && planned !== null && (
            <Button onClick={() => own(null)}>Follow the plan: {m(planned)}</Button>
          )}
        </Notice>
      )}
      <Section title="Supplier item">
        <LinkEditor listing={listing} shop={shop} />
      </Section>
      {sum && quote?.deductions && (
        <Section
          title={`At ${m(sum.price)} each sale ${sum.profit < 0 ? 'loses' : 'earns'} ${m(Math.abs(sum.profit))}`}
        >
          <PriceStrip
            large
            sum={sum}
            breakEven={quote.breakEven}
            currency={currency}
            map={quote.map}
            msrp={quote.msrp}
          />
          <SumTable sum={sum} deductions={quote.deductions} breakEven={quote.breakEven} currency={currency} />
        </Section>
      )}
      {quote && (
        <>
          <Section
            title={`Why this price${listing.ownPrice !== null ? ': set by hand' : `: plan “${plan.name}”`}`}
          >
            {quote.answer?.ok ? (
              <ul className="list-disc pl-4 text-[13px]">
                {quote.answer.steps.map((s) => (
                  <li key={s.rule}>{stepInWords(s, plan, currency)}</li>
                ))}
                {!quote.answer.meetsTarget && (
                  <li className="text-lamp">The target is not reached at this price.</li>
                )}
              </ul>
            ) : (
              <p className="text-[13px]">{quote.problem}</p>
            )}
            <p className="mt-1 text-xs text-muted">
              Cost {m(listing.facts.cost)}
              {now > 0 && `, as read ${whenOf(listing.facts.at, now, shop.settings.zone)}`}; fees of{' '}
              {market?.name}.
            </p>
            <div className="mt-2 flex items-end gap-3">
              <AmountField
                label="Own price"
                optional
                value={listing.ownPrice}
                placeholder={planned === null ? '' : m(planned)}
                write={m}
                parse={(t) => parsePrice(t, currency)}
                onChange={own}
              />
              {listing.ownPrice !== null && <Button onClick={() => own(null)}>Follow the plan</Button>}
            </div>
          </Section>
          <Section title="Stock">
            <StockStack
              stock={listing.facts.stock}
              safety={shop.settings.stock.safety}
              promised={shop.promised.get(listing.id) ?? 0}
              shown={quote.quantity}
              atMost={shop.settings.stock.atMost}
            />
          </Section>
        </>
      )}
      {listing.item && (
        <Section title="Supplier’s original and ours">
          <SupplierText product={product} now={now} zone={shop.settings.zone} />
        </Section>
      )}
      <Section title="History">
        <History subject={`listing:${listing.id}`} now={now} zone={shop.settings.zone} />
      </Section>
    </Docket>
  );
}
