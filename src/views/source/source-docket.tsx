'use client';
import Link from 'next/link';
import { useEffect, useState } from 'react';
import { optionsInWords } from '../../core/catalogue';
import { formatMinor } from '../../core/money';
import { stepInWords } from '../../core/pricing';
import { countOf, formatGrams } from '../../core/units';
import { useFeed } from '../../ui/asked';
import { Button } from '../../ui/button';
import { CleanedHtml } from '../../ui/cleaned-html';
import { useNow } from '../../ui/clock';
import { Docket } from '../../ui/docket';
import { Notice, Section } from '../../ui/head';
import { later } from '../../ui/later';
import { Picture } from '../../ui/picture';
import { PriceStrip } from '../../ui/price-strip';
import { useProblemInWords } from '../../ui/problem';
import { say } from '../../ui/said';
import { useShop } from '../../ui/shop';
import { SumTable } from '../../ui/sum-table';
import { type SourceItem, splitKey } from '../../work/catalogue/source-rows';
import { theShop } from '../../work/desk/client';
import type { MarketConnection } from '../../work/model';
import { supplierOf } from '../../work/quoting/worth';

const HistoryChart = later(() => import('../../ui/history-chart').then((m) => m.HistoryChart));

interface Props {
  /** Supplier and SKU, see `keyOf`. */
  readonly row: string;
  readonly market: MarketConnection | undefined;
  /** Changes when the catalogue, the plan or what is taken changed. */
  readonly stamp: number;
  readonly onClose: () => void;
}

/** One item of a catalogue in full, with the price it would get and why. */
export function SourceDocket({ row: chosen, market, stamp, onClose }: Props) {
  const [row, setRow] = useState<SourceItem | null | undefined>(undefined);
  const now = useNow(60_000);
  const shop = useShop();
  const blanks = useFeed('blanks');
  const inWords = useProblemInWords(market?.site.currency ?? '');
  // biome-ignore lint/correctness/useExhaustiveDependencies: the stamp says when to look again
  useEffect(() => {
    let old = false;
    theShop()
      .look(chosen, market?.id ?? null)
      .then((got) => !old && setRow(got));
    return () => {
      old = true;
    };
  }, [chosen, market?.id, stamp]);
  const take = async () => {
    const { listings } = await theShop().take({ keys: [chosen] }, market!.id);
    await say(`${countOf(listings, 'item')} went to the Bench.`, { undo: true });
  };
  if (row === undefined || !shop) return null;
  if (row === null) {
    return (
      <Docket label="Item" onClose={onClose}>
        <h2 className="text-base font-semibold">No such item</h2>
        <p className="mt-2 text-muted">
          No supplier has an item <span className="font-mono">{splitKey(chosen).sku.slice(0, 64)}</span> now.
        </p>
      </Docket>
    );
  }
  const { item, quote, detail, plan } = row;
  const supplier = supplierOf(shop, row.supplier)!;
  const blank = blanks?.find(
    (b) => b.supplier === row.supplier && b.items.some((one) => one.sku === item.sku),
  );
  const m = (minor: number) => formatMinor(minor, supplier.currency);
  return (
    <Docket label="Item" onClose={onClose}>
      <h2 className="text-base font-semibold">{item.title}</h2>
      <p className="text-xs text-muted">
        <span className="font-mono">{item.sku}</span> ·{' '}
        {[supplier.name, item.brand, item.category].filter(Boolean).join(' · ')}
      </p>
      {Object.keys(item.options).length > 0 && (
        <p className="text-[13px]">{optionsInWords(item.options)}; its other variants come with it.</p>
      )}
      <div className="mt-2 flex gap-2">
        {(detail?.pictures.length ? detail.pictures : [undefined]).slice(0, 4).map((path, i) => (
          <Picture
            key={path ?? i}
            supplier={supplier.service}
            path={path}
            alt={`${item.title}, picture ${i + 1}`}
            size={76}
          />
        ))}
      </div>
      <div className="mt-3">
        {row.gone ? (
          <Notice>{supplier.name} no longer offers it. What is listed of it shows a quantity of 0.</Notice>
        ) : blank ? (
          <Notice tone="plain">
            A blank, printed to order: {blank.areas.map((a) => a.name.toLowerCase()).join(', ')}, by{' '}
            {blank.areas[0]!.technique.name.toLowerCase()}, in {blank.sites.map((s) => s.name).join(' and ')}.{' '}
            <Link href="/print-room" className="text-river underline">
              Place designs on it
            </Link>
          </Notice>
        ) : row.taken ? (
          <Notice tone="plain">Taken already: it is on the Bench or listed.</Notice>
        ) : (
          <Button kind="main" disabled={!market} onClick={take}>
            Take to the Bench
          </Button>
        )}
      </div>
      {quote?.sum && quote.deductions ? (
        <Section title={`Expected on ${market?.name}`}>
          <PriceStrip
            large
            sum={quote.sum}
            breakEven={quote.breakEven}
            currency={market!.site.currency}
            map={quote.map}
            msrp={quote.msrp}
          />
          <SumTable
            sum={quote.sum}
            deductions={quote.deductions}
            breakEven={quote.breakEven}
            currency={market!.site.currency}
          />
          {quote.answer?.ok && plan && (
            <ul className="mt-2 list-disc pl-4 text-[13px] text-muted">
              {quote.answer.steps.map((s) => (
                <li key={s.rule}>{stepInWords(s, market!.site.currency)}</li>
              ))}
            </ul>
          )}
        </Section>
      ) : (
        quote?.problem && <Notice>{inWords(quote.problem)}</Notice>
      )}
      <Section title="Cost and stock over time">
        <HistoryChart points={row.history} currency={supplier.currency} now={now} zone={shop.settings.zone} />
      </Section>
      <Section title="From the supplier">
        <dl className="grid grid-cols-[7rem_1fr] gap-y-1 text-[13.5px]">
          <dt className="text-muted">Cost</dt>
          <dd>{m(item.cost)}</dd>
          <dt className="text-muted">Stock</dt>
          <dd>{item.stock}</dd>
          <dt className="text-muted">Weight</dt>
          <dd>{formatGrams(item.grams)}</dd>
          <dt className="text-muted">MAP, MSRP</dt>
          <dd>
            {item.map === null ? 'none' : m(item.map)}, {item.msrp === null ? 'none' : m(item.msrp)}
          </dd>
          <dt className="text-muted">Ships</dt>
          <dd>
            {item.shipsFrom ? `from ${item.shipsFrom}` : 'location not stated'}
            {item.days !== null && `, within ${countOf(item.days, 'day')}`}
          </dd>
          <dt className="text-muted">Barcode</dt>
          <dd className="font-mono">{item.gtin ?? 'none'}</dd>
        </dl>
        <div className="mt-2">{detail && <CleanedHtml html={detail.description} />}</div>
      </Section>
    </Docket>
  );
}
