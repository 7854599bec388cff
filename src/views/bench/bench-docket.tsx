'use client';
import Link from 'next/link';
import { type ReactNode, useState } from 'react';
import { optionsInWords } from '../../core/catalogue';
import { formatMinor, parsePrice } from '../../core/money';
import { countOf, whenOf } from '../../core/units';
import { AmountField } from '../../ui/amount-field';
import { AtATime } from '../../ui/at-a-time';
import { Button } from '../../ui/button';
import { useNow } from '../../ui/clock';
import { CostsByCountry } from '../../ui/costs-by-country';
import { Docket } from '../../ui/docket';
import { Notice, Section } from '../../ui/head';
import { History } from '../../ui/history';
import { ListingFields } from '../../ui/listing-fields';
import { offerAt } from '../../ui/own-price';
import { PriceStrip } from '../../ui/price-strip';
import { useProblemInWords } from '../../ui/problem';
import { say } from '../../ui/said';
import { useShop } from '../../ui/shop';
import { SumTable } from '../../ui/sum-table';
import { SupplierText } from '../../ui/supplier-text';
import { Tabs } from '../../ui/tabs';
import { WhyPrice } from '../../ui/why-price';
import { theShop } from '../../work/desk/client';
import type { BenchInFull } from '../../work/memory/bench-lines';
import type { PlanRow } from '../../work/model';
import { brandOf } from '../../work/quoting/copy';
import { type FullListing, historyOf } from '../../work/quoting/full-listing';
import { isOnBench } from '../../work/quoting/listing-standing';
import { planFor } from '../../work/quoting/plan-choice';
import { marketsOf, nameIn, problemOf, type ShopTerms } from '../../work/quoting/worth';

type VariantStanding = BenchInFull['standing']['variants'][number];

/**
 * One product on the Bench: what it lacks, its text, category and plan, the price of each variant with the
 * full sum.
 */
export function BenchDocket({
  row,
  shop,
  onMarket,
  onClose,
}: {
  row: BenchInFull;
  shop: ShopTerms;
  onMarket: (market: string) => void;
  onClose: () => void;
}) {
  const { product, standing, site, market, title } = row;
  const now = useNow();
  const [at, setAt] = useState(0);
  const variant = standing.variants[Math.min(at, standing.variants.length - 1)];
  const { currency } = site;
  const full = variant?.full ?? row.full[0];
  const plan = full ? planFor(shop, full) : null;
  const ids = row.full.filter((f) => isOnBench(f.listing)).map((f) => f.listing.id);
  const approveAndPublish = async () => {
    await theShop().approve(ids);
    const done = await theShop().publish(ids);
    await say(`${title}: ${done.queued} on the way.`);
  };
  const head = (
    <>
      <h2 className="text-base font-semibold">{title}</h2>
      <p className="text-xs text-muted">
        {brandOf({ product })} · {product.taken.category} · {shop.connections.get(product.supplier)?.name}
      </p>
    </>
  );
  if (!full)
    return (
      <Docket label="Product on the Bench" onClose={onClose}>
        {head}
        <Markets row={row} shop={shop} onMarket={onMarket}>
          <Notice tone="plain">
            It is not listed on {market.name}.{' '}
            <Button
              onClick={async () => {
                const n = await theShop().listOn([product.id], market.id);
                await say(`${countOf(n, 'listing')} for ${market.name} on the Bench.`, { undo: n > 0 });
              }}
            >
              List on {market.name} too
            </Button>
          </Notice>
        </Markets>
      </Docket>
    );
  return (
    <Docket label="Product on the Bench" onClose={onClose}>
      {head}
      <Markets row={row} shop={shop} onMarket={onMarket}>
        {!variant && full.listing.state !== 'publishing' && (
          <Notice tone="plain">
            It is past the Bench on {market.name}.{' '}
            <Link
              href={`/listings?row=${encodeURIComponent(full.listing.id)}`}
              className="font-semibold text-river underline"
            >
              See it among Listings
            </Link>
          </Notice>
        )}
        {row.refused > 0 && (
          <Notice tone="loss">
            {refusals(row.full, shop)} Fix it below, then approve and publish again.
          </Notice>
        )}
        <OnItsWay row={row} now={now} zone={shop.settings.zone} />
        <Missing row={row} />
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

        {row.full.length > 1 && <Variants row={row} chosen={at} onChoose={setAt} />}
        {variant && (
          <Section
            title={`Price on ${market.name}${row.full.length > 1 ? `, ${optionsInWords(full.variant.options)}` : ''}`}
          >
            <VariantPrice {...{ variant, plan, currency }} />
          </Section>
        )}
        <Section title={`Listing on ${market.name}`}>
          <ListingFields full={full} shop={shop} />
        </Section>
        <div className="mt-3">
          <Button
            onClick={async () => {
              await theShop().duplicateProduct(product.id);
              await say(
                `${title} was duplicated: the copy waits on the Bench. It has the same title: change it, so that buyers can tell them apart.`,
                { undo: true },
              );
            }}
          >
            Duplicate
          </Button>
        </div>
        <Section title="Supplier’s original and ours">
          <SupplierText full={full} shop={shop} now={now} zone={shop.settings.zone} />
        </Section>
        <Section title="History">
          <History of={historyOf(full)} now={now} zone={shop.settings.zone} />
        </Section>
      </Markets>
    </Docket>
  );
}

/** The requirements of the site that are not met, and a button that mends those that can be mended. */
function Missing({ row }: { row: BenchInFull }) {
  const { standing, market, mends } = row;
  if (!standing.missing.length) return null;
  return (
    <Notice>
      <b className="font-semibold">What {market.name} still misses</b>
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
            theShop().applyCells(
              [{ listing: row.full[0]!.listing.id, field: m.field, text: m.fix }],
              'Mended',
            )
          }
        >
          {m.field === 'title' ? `Make it “${m.fix}”` : `Mend the ${m.field}`}
        </Button>
      ))}
    </Notice>
  );
}

/** The variants that are on the Bench: one is looked at, any but the last can be left out. */
function Variants({
  row,
  chosen,
  onChoose,
}: {
  row: BenchInFull;
  chosen: number;
  onChoose: (at: number) => void;
}) {
  const { standing, market } = row;
  const nameOf = (v: VariantStanding) => optionsInWords(v.full.variant.options) || v.listing.sku;
  const leaveOut = async ({ listing }: VariantStanding) => {
    const n = await theShop().leaveOut([listing.id]);
    await say(n ? `${listing.sku} is left out on ${market.name}.` : 'One variant must stay.', {
      undo: n > 0,
    });
  };
  return (
    <Section title={`${row.full.length} variants`}>
      <table className="w-full text-[13px]">
        <tbody>
          {standing.variants.map((v, i) => (
            <tr key={v.listing.id} className={i === chosen ? 'bg-chosen' : ''}>
              <th scope="row" className="py-0.5 text-left font-normal">
                <button
                  type="button"
                  aria-pressed={i === chosen}
                  className="text-river hover:underline"
                  onClick={() => onChoose(i)}
                >
                  {nameOf(v)}
                </button>
              </th>
              <td className="text-right">
                {v.quote?.price ? formatMinor(v.quote.price, row.site.currency) : 'none'}
              </td>
              <td className="pl-2 text-right text-muted">{v.full.item?.stock ?? 0} in stock</td>
              <td className="pl-1 text-right">
                <Button
                  kind="text"
                  className="-my-1 text-xs"
                  aria-label={`Leave out ${nameOf(v)}`}
                  onClick={() => leaveOut(v)}
                >
                  Leave out
                </Button>
              </td>
            </tr>
          ))}
        </tbody>
      </table>
    </Section>
  );
}

/** When it is published, while it can be moved or called back. */
function OnItsWay({ row, now, zone }: { row: BenchInFull; now: number; zone: string }) {
  const going = row.full.filter((f) => f.listing.state === 'publishing').map((f) => f.listing);
  const at = going.find((l) => l.publishAt)?.publishAt ?? null;
  if (at === null || at <= now) return null;
  const ids = going.map((l) => l.id);
  const move = async (to: number | null) => {
    const n = await theShop().movePublishing(ids, to);
    await say(
      n
        ? `${countOf(n, 'listing')} to be published ${to === null ? 'at once' : whenOf(to, now, zone)}.`
        : 'It has left already.',
      { wrong: n === 0 },
    );
  };
  return (
    <Notice tone="plain">
      To be published {whenOf(at, now, zone)}.
      <span className="mt-1 flex gap-2">
        <Button onClick={() => move(null)}>Publish now</Button>
        <AtATime
          name="Move to another time"
          label={`Not before, ${zone}`}
          verb="Publish"
          zone={zone}
          now={now}
          onPick={move}
        />
        <Button
          onClick={async () => {
            const n = await theShop().stopPublishing(ids);
            await say(n ? `${countOf(n, 'listing')} called back.` : 'It has left already.', {
              wrong: n === 0,
            });
          }}
        >
          Call back
        </Button>
      </span>
    </Notice>
  );
}

/** What a variant is offered at, why, and an own price instead. */
function VariantPrice({
  variant,
  plan,
  currency,
}: {
  variant: VariantStanding;
  plan: PlanRow | null;
  currency: string;
}) {
  const { listing, quote } = variant;
  const shop = useShop();
  const inWords = useProblemInWords(currency);
  return (
    <>
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
          {shop && <CostsByCountry full={variant.full} shop={shop} currency={currency} />}
          {quote.by === 'plan' && (
            <div className="mt-2">
              <WhyPrice key={listing.id} quote={quote} plan={plan} currency={currency} />
            </div>
          )}
        </>
      ) : (
        <p className="text-[13px] text-muted">{quote?.problem ? inWords(quote.problem) : 'No price yet.'}</p>
      )}
      <div className="mt-2 flex items-end gap-3">
        <AmountField
          label="Own price"
          optional
          value={listing.ownPrice}
          placeholder="by plan"
          write={(n) => formatMinor(n, currency)}
          parse={(t) => parsePrice(t, currency)}
          onChange={(price) => offerAt(listing, currency, price)}
        />
        {listing.ownPrice !== null && (
          <Button onClick={() => offerAt(listing, currency, null)}>Follow the plan</Button>
        )}
      </div>
    </>
  );
}

/** The marketplaces of the shop with how far the product is on each; below them the one that is looked at. */
function Markets({
  row,
  shop,
  onMarket,
  children,
}: {
  row: BenchInFull;
  shop: ShopTerms;
  onMarket: (market: string) => void;
  children: ReactNode;
}) {
  const all = marketsOf(shop);
  if (all.length < 2) return children;
  const tabs = all.map((m) => ({
    id: m.id,
    name: (
      <>
        {m.name}
        <span className="block text-xs font-normal text-muted">
          {WORDS[row.on[m.id]?.state.is ?? 'none']}
        </span>
      </>
    ),
  }));
  return (
    <Tabs label="Marketplaces" tabs={tabs} chosen={row.market.id} onChoose={onMarket} className="mt-2">
      {children}
    </Tabs>
  );
}

const WORDS = {
  none: 'not listed there',
  publishing: 'being published',
  refused: 'refused',
  lacking: 'lacks something',
  approved: 'approved',
  draft: 'draft on the site',
  ready: 'ready',
  live: 'live',
  ended: 'ended',
} as const;

/** The reasons that marketplaces gave for refusals. */
const refusals = (rows: readonly FullListing[], shop: ShopTerms) =>
  rows
    .flatMap((full) =>
      full.listing.state === 'refused'
        ? [`${nameIn(shop)(full.listing.marketplace)} refused it. ${problemOf(full, shop)}`]
        : [],
    )
    .filter((one, k, all) => all.indexOf(one) === k)
    .join(' ');
