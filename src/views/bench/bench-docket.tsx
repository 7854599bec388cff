'use client';
import { useId, useState } from 'react';
import { optionsInWords } from '../../core/catalogue';
import { cleanHtml, plainText } from '../../core/copy';
import { formatMinor, parsePrice } from '../../core/money';
import { stepInWords } from '../../core/pricing';
import { AmountField } from '../../ui/amount-field';
import { Button } from '../../ui/button';
import { CleanedHtml } from '../../ui/cleaned-html';
import { useNow } from '../../ui/clock';
import { Docket } from '../../ui/docket';
import { Notice, Section } from '../../ui/head';
import { History } from '../../ui/history';
import { Picture } from '../../ui/picture';
import { PriceStrip } from '../../ui/price-strip';
import { say } from '../../ui/said';
import { SumTable } from '../../ui/sum-table';
import { SupplierText } from '../../ui/supplier-text';
import { TextField } from '../../ui/text-field';
import type { BenchInFull } from '../../work/assortment/bench-list';
import { theShop } from '../../work/clients';
import type { Listing } from '../../work/model';
import { historyOf, titleOf } from '../../work/shop/full-listing';
import { planFor } from '../../work/shop/plan-choice';
import { categoryOf, type ShopTerms } from '../../work/shop/quote';

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
  const id = useId();
  const title = titleOf(first);
  const category = site ? categoryOf(first, site) : null;
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
        {product.taken.brand} · {product.taken.category} · {shop.connections.get(product.supplier)?.name}
      </p>
      <div className="mt-2 flex gap-2">
        {(product.taken.pictures.length ? product.taken.pictures : [undefined]).slice(0, 4).map((path, i) => (
          <Picture
            key={path ?? i}
            supplier={shop.connections.get(product.supplier)?.service ?? ''}
            path={path}
            alt={`${title}, picture ${i + 1}`}
            size={64}
          />
        ))}
      </div>
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
              <li key={m.reason}>
                {m.reason}
                {m.fix !== undefined && m.field === 'title' && (
                  <>
                    {' '}
                    <Button kind="text" onClick={() => theShop().editProduct(product.id, { title: m.fix! })}>
                      Shorten to “{m.fix}”
                    </Button>
                  </>
                )}
              </li>
            ))}
          </ul>
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

      <Section title="Text">
        <TextField
          key={`t${product.id}`}
          id={`${id}-title`}
          label={`Title, ${[...title].length} of ${site?.titleLimit ?? '?'} characters`}
          value={title}
          onCommit={(t) => theShop().editProduct(product.id, { title: plainText(t) || null })}
        />
        {product.title !== null && (
          <p className="text-xs text-muted">
            Supplier’s: {product.taken.title}{' '}
            <Button kind="text" onClick={() => theShop().editProduct(product.id, { title: null })}>
              Use the supplier’s
            </Button>
          </p>
        )}
        <label htmlFor={`${id}-category`} className="mt-2 block text-xs text-muted">
          Category{chosen === null && category ? ', guessed from the supplier’s' : ''}
        </label>
        <select
          id={`${id}-category`}
          value={category ?? ''}
          onChange={(e) => theShop().editListings(ids, { category: e.target.value || null })}
          className="w-full rounded-sm border border-edge bg-surface px-1.5 py-1"
        >
          <option value="">Choose a category</option>
          {site?.categories.map((c) => (
            <option key={c.id} value={c.id}>
              {c.name}
            </option>
          ))}
        </select>
        {site?.asksMaker && (
          <>
            <label htmlFor={`${id}-maker`} className="mt-2 block text-xs text-muted">
              Who made it
            </label>
            <select
              id={`${id}-maker`}
              value={first.listing.attributes.maker ?? ''}
              onChange={(e) =>
                theShop().editListings(ids, {
                  attributes: { ...first.listing.attributes, maker: e.target.value },
                })
              }
              className="w-full rounded-sm border border-edge bg-surface px-1.5 py-1"
            >
              <option value="">Choose</option>
              <option value="us">We did</option>
              <option value="partner">A partner, to our design</option>
              <option value="another">Another company</option>
            </select>
          </>
        )}
        {site?.tags && (
          <TextField
            key={`tags${row.key}`}
            id={`${id}-tags`}
            label={`Tags, separated by commas: at most ${site.tags.most} of ${site.tags.longest} characters`}
            value={first.listing.tags.join(', ')}
            onCommit={(t) =>
              theShop().editListings(ids, {
                tags: t
                  .split(',')
                  .map((tag) => plainText(tag))
                  .filter(Boolean),
              })
            }
          />
        )}
        {shop.plans.length > 1 && (
          <>
            <label htmlFor={`${id}-plan`} className="mt-2 block text-xs text-muted">
              Price plan
            </label>
            <select
              id={`${id}-plan`}
              value={first.listing.plan ?? ''}
              onChange={(e) => theShop().editListings(ids, { plan: e.target.value || null })}
              className="w-full rounded-sm border border-edge bg-surface px-1.5 py-1"
            >
              <option value="">
                {plan && first.listing.plan === null
                  ? `The first that fits: ${plan.name}`
                  : 'The first that fits'}
              </option>
              {shop.plans.map((p) => (
                <option key={p.id} value={p.id}>
                  {p.name}
                </option>
              ))}
            </select>
          </>
        )}
        <TextField
          key={`d${product.id}`}
          id={`${id}-description`}
          label="Description (plain formatting tags are kept)"
          area
          value={product.description ?? product.taken.description}
          onCommit={(d) => theShop().editProduct(product.id, { description: cleanHtml(d) || null })}
        />
        <div className="mt-2 rounded-sm border border-rule-soft p-2">
          <CleanedHtml html={product.description ?? product.taken.description} />
        </div>
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
