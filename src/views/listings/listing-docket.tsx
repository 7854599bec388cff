'use client';
import { plainText } from '../../core/copy';
import { formatMinor, formatMoney, parsePrice } from '../../core/money';
import { countOf, whenOf } from '../../core/units';
import { AmountField } from '../../ui/amount-field';
import { Button } from '../../ui/button';
import { Docket } from '../../ui/docket';
import { Notice, Section } from '../../ui/head';
import { History } from '../../ui/history';
import { LinkEditor } from '../../ui/link-editor';
import { ListingFields } from '../../ui/listing-fields';
import { PriceStrip } from '../../ui/price-strip';
import { say } from '../../ui/said';
import { StockStack } from '../../ui/stock-stack';
import { SumTable } from '../../ui/sum-table';
import { SupplierText } from '../../ui/supplier-text';
import { WhyPrice } from '../../ui/why-price';
import type { ListingInFull } from '../../work/assortment/listing-list';
import { theShop } from '../../work/clients';
import { driftInWords } from '../../work/listings/drift';
import { follows } from '../../work/listings/offer';
import { differs } from '../../work/listings/standing';
import { titleOf } from '../../work/shop/copy';
import { historyOf } from '../../work/shop/full-listing';
import { planFor } from '../../work/shop/plan-choice';
import { exchangeInWords, marketOf, type ShopTerms, supplierOf } from '../../work/shop/quote';
import { marketsOf } from '../../work/shop/terms';

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
  const { listing, product, source, item, quote, sum } = row;
  const market = marketOf(shop, listing.marketplace);
  const currency = market?.site.currency ?? 'GBP';
  const plan = planFor(shop, row);
  const supplier = source && supplierOf(shop, source.supplier);
  const m = (minor: number) => formatMinor(minor, currency);
  const elsewhere = marketsOf(shop).filter((c) => !row.on.includes(c.id));
  const planned = quote?.answer?.ok ? quote.answer.price : null;
  const own = async (price: number | null) => {
    await theShop().setOwnPrice(listing.id, price);
    await say(
      price === null ? `${listing.sku} follows its plan again.` : `${listing.sku} is offered at ${m(price)}.`,
      {
        undo: true,
      },
    );
  };
  const settle = async (go: boolean) => {
    await theShop().settleSteps([listing.id], go);
    await say(
      go ? `${listing.sku} goes to its new price.` : `${listing.sku} keeps its price as an own one.`,
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
      {listing.problem && (
        <Notice>
          <b className="font-semibold">
            {listing.published?.quantity === 0 ? 'Held back, none shown' : 'Held'} at{' '}
            {listing.published ? m(listing.published.price) : 'its price'}.
          </b>{' '}
          {listing.problem}{' '}
          {listing.held ? (
            <span className="mt-1 flex gap-2">
              <Button kind="main" onClick={() => settle(true)}>
                Let it go to {m(listing.held.to)}
              </Button>
              <Button onClick={() => settle(false)}>Keep {m(listing.held.from)}</Button>
            </span>
          ) : (
            'Give it an own price below, or change the plan or its guards.'
          )}
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
      {listing.drift && market && (
        <Notice>
          <b className="font-semibold">It was edited on {market.name} itself.</b>
          <table className="mt-1 w-full text-[13px]">
            <thead className="text-left text-xs text-muted">
              <tr>
                <th scope="col" className="font-normal">
                  Field
                </th>
                <th scope="col" className="font-normal">
                  Ours
                </th>
                <th scope="col" className="font-normal">
                  Theirs
                </th>
              </tr>
            </thead>
            <tbody>
              {driftInWords(listing, { title: titleOf(row), category: quote?.category ?? '' }, currency).map(
                (d) => (
                  <tr key={d.field} className="align-top">
                    <th scope="row" className="pr-2 text-left font-normal text-muted">
                      {d.field}
                    </th>
                    <td className="pr-2">{d.ours}</td>
                    <td>{plainText(d.theirs)}</td>
                  </tr>
                ),
              )}
            </tbody>
          </table>
          <span className="mt-1.5 flex gap-2">
            {(['theirs', 'ours'] as const).map((keep) => (
              <Button
                key={keep}
                onClick={async () => {
                  await theShop().settleDrift([listing.id], keep);
                  await say(
                    keep === 'theirs'
                      ? `${listing.sku} is kept as it was edited on ${market.name}.`
                      : `${listing.sku} is put back on ${market.name}.`,
                  );
                }}
              >
                {keep === 'theirs' ? 'Keep theirs' : 'Put ours back'}
              </Button>
            ))}
          </span>
        </Notice>
      )}
      {quote && market && differs(row, quote, market) && (
        <Notice>
          Its text or pictures differ from what {market?.name} shows.{' '}
          <Button
            onClick={async () => {
              await theShop().sendChanges([listing.id]);
              await say(`The change of ${listing.sku} is on the way.`);
            }}
          >
            Send the change
          </Button>
        </Notice>
      )}
      {market && (
        <div className="mt-3 flex flex-wrap gap-2">
          {listing.state === 'ended' ? (
            <Button
              onClick={async () => {
                await theShop().bringBackMeant({ keys: [listing.id] });
                await say(`${listing.sku} is put on sale again.`, { undo: true });
              }}
            >
              Bring back
            </Button>
          ) : (
            follows(listing) && (
              <Button
                onClick={async () => {
                  await theShop().endMeant({ keys: [listing.id] });
                  await say(`${listing.sku} is ended on ${market.name}.`, { undo: true });
                }}
              >
                End
              </Button>
            )
          )}
          {elsewhere.map((m) => (
            <Button
              key={m.id}
              onClick={async () => {
                const n = await theShop().listOn([product.id], m.id);
                await say(`${countOf(n, 'listing')} for ${m.name} on the Bench.`, { undo: n > 0 });
              }}
            >
              List on {m.name} too
            </Button>
          ))}
        </div>
      )}
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
