'use client';
import { formatMinor, formatMoney, parsePrice } from '../../core/money';
import { whenOf } from '../../core/units';
import { AmountField } from '../../ui/amount-field';
import { Button } from '../../ui/button';
import { CostsByCountry } from '../../ui/costs-by-country';
import { Docket } from '../../ui/docket';
import { Section } from '../../ui/head';
import { History } from '../../ui/history';
import { LinkEditor } from '../../ui/link-editor';
import { ListingFields } from '../../ui/listing-fields';
import { offerAt } from '../../ui/own-price';
import { PriceStrip } from '../../ui/price-strip';
import { StockStack } from '../../ui/stock-stack';
import { SumTable } from '../../ui/sum-table';
import { SupplierText } from '../../ui/supplier-text';
import { WhyPrice } from '../../ui/why-price';
import type { ListingInFull } from '../../work/memory/listing-list';
import { historyOf } from '../../work/quoting/full-listing';
import { planFor } from '../../work/quoting/plan-choice';
import { exchangeInWords } from '../../work/quoting/pricing-terms';
import { marketOf, marketsOf, type ShopTerms, supplierOf } from '../../work/quoting/worth';
import { ListingNotices } from './listing-notices';
import { WhereOnSale } from './where-on-sale';

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
  row: ListingInFull;
  shop: ShopTerms;
  now: number;
  onClose: () => void;
}) {
  const { listing, source, item, quote, sum } = row;
  const market = marketOf(shop, listing.marketplace);
  const currency = market?.site.currency ?? 'GBP';
  const plan = planFor(shop, row);
  const supplier = source && supplierOf(shop, source.supplier);
  const m = (minor: number) => formatMinor(minor, currency);
  const planned = quote?.answer?.ok ? quote.answer.price : null;
  const own = (price: number | null) => offerAt(listing, currency, price);
  return (
    <Docket label="Listing" onClose={onClose}>
      <h2 className="text-base font-semibold">{row.title}</h2>
      <p className="text-xs text-muted">
        <span className="font-mono">{listing.sku}</span> · {market?.name}
        {source && (
          <>
            {' '}
            · {supplier?.name} <span className="font-mono">{source.item}</span>
          </>
        )}
        {listing.page && (
          <>
            {' '}
            ·{' '}
            <a href={listing.page} target="_blank" rel="noopener noreferrer" className="text-river underline">
              Its page
            </a>
          </>
        )}
      </p>
      <ListingNotices {...{ row, market, currency }} onFollowPlan={() => own(null)} />
      {market && <WhereOnSale row={row} market={market} markets={marketsOf(shop)} />}
      <Section title="Supplier item">
        <LinkEditor full={row} shop={shop} />
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
          <CostsByCountry full={row} shop={shop} currency={currency} />
        </Section>
      )}
      {quote && (
        <>
          <Section
            title={`Why this price${listing.ownPrice !== null ? ': your own price' : plan ? `: plan “${plan.name}”` : ''}`}
          >
            <WhyPrice key={listing.id} quote={quote} plan={plan} currency={currency} />
            <p className="mt-1 text-xs text-muted">
              {item && supplier && `Cost ${formatMoney({ minor: item.cost, currency: supplier.currency })}`}
              {item && now > 0 && `, since ${whenOf(item.times.cost, now, shop.settings.zone)}`}
              {quote.exchange && supplier && exchangeInWords(shop, supplier.currency, currency)}; fees of{' '}
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
            <StockStack steps={quote.stock} rule={plan?.stock ?? shop.settings.stock} />
          </Section>
        </>
      )}
      <Section title="Text and pictures">
        <ListingFields full={row} shop={shop} />
      </Section>
      {source && (
        <Section title="Supplier’s original and ours">
          <SupplierText full={row} shop={shop} now={now} zone={shop.settings.zone} />
        </Section>
      )}
      <Section title="History">
        <History of={historyOf(row)} now={now} zone={shop.settings.zone} />
      </Section>
    </Docket>
  );
}
