'use client';
import { proxy } from 'comlink';
import { useEffect, useState } from 'react';
import { countOf, formatCount } from '../../core/units';
import { Button } from '../../ui/button';
import { Docket } from '../../ui/docket';
import { Section } from '../../ui/head';
import { say } from '../../ui/said';
import type { Meant, Weighed } from '../../work/catalogue/source-rows';
import { failureInWords } from '../../work/context/failure';
import { theShop } from '../../work/desk/client';

interface Props {
  readonly what: Meant;
  readonly market: { readonly id: string; readonly name: string };
  readonly onClose: () => void;
  readonly onTaken: () => void;
}

/** What taking the marked items would bring, before it is done; then its progress. */
export function TakeDocket({ what, market, onClose, onTaken }: Props) {
  const [weighed, setWeighed] = useState<Weighed | null>(null);
  const [progress, setProgress] = useState<{ done: number; total: number } | null>(null);
  const key = JSON.stringify(what).slice(0, 5000);
  // biome-ignore lint/correctness/useExhaustiveDependencies: the key stands for what is meant
  useEffect(() => {
    let old = false;
    theShop()
      .weigh(what, market.id)
      .then((got) => !old && setWeighed(got));
    return () => {
      old = true;
    };
  }, [key, market.id]);
  const take = async () => {
    setProgress({ done: 0, total: 0 });
    try {
      const { products, listings } = await theShop().take(
        what,
        market.id,
        proxy((done: number, total: number) => setProgress({ done, total })),
      );
      onTaken();
      if (!listings)
        await say('All of these are on the Bench or listed already, or are blanks that are printed first.');
      else
        await say(`${countOf(listings, 'item')} went to the Bench as ${countOf(products, 'product')}.`, {
          undo: true,
        });
    } catch (error) {
      setProgress(null);
      await say(`Nothing was taken: ${failureInWords(error)}`, {
        wrong: true,
      });
    }
  };
  if (!weighed) return null;
  const n = weighed.items + weighed.along - weighed.taken;
  const facts: [string, number, string][] = [
    ['Marked', weighed.items, ''],
    [
      'Other variants of the same products',
      weighed.along,
      'They come along: a listing shows all its variants.',
    ],
    ['Taken already', weighed.taken, 'Left as they are.'],
    [
      'Without an expected price',
      weighed.noPrice,
      'No category, weight or rate to price them by; the Bench says which.',
    ],
    ['Without a picture', weighed.noPicture, 'They cannot be published without one.'],
    ['Without a barcode', weighed.noBarcode, 'Some categories need one.'],
    ['Out of stock', weighed.noStock, 'They would show a quantity of 0.'],
  ];
  return (
    <Docket label="Take to the Bench" onClose={onClose}>
      <h2 className="text-base font-semibold">
        {n > 0
          ? `${countOf(n, 'item')} would become ${countOf(weighed.products, 'product')}`
          : 'Nothing new is marked'}
      </h2>
      <p className="text-xs text-muted">
        for {market.name}. Nothing is published: they wait on the Bench until you approve them.
      </p>
      <Section title="What is marked">
        <dl className="text-[13.5px]">
          {facts
            .filter(([, count]) => count > 0)
            .map(([name, count, means]) => (
              <div key={name} className="flex gap-3 border-b border-rule-soft py-1">
                <dt className="grow">
                  {name}
                  {means && <span className="block text-xs text-muted">{means}</span>}
                </dt>
                <dd className="font-semibold">{formatCount(count)}</dd>
              </div>
            ))}
        </dl>
        {weighed.suppliers.length > 1 && (
          <p className="mt-1.5 text-xs text-muted">
            {weighed.suppliers.map((s) => `${s.name} ${formatCount(s.count)}`).join(', ')}
          </p>
        )}
      </Section>
      {progress ? (
        <p role="status" className="mt-4 text-[13.5px]">
          {progress.total
            ? `${formatCount(progress.done)} of ${formatCount(progress.total)} rows written`
            : 'Gathering texts and pictures …'}
          <span
            role="progressbar"
            aria-label="Taking"
            aria-valuenow={progress.done}
            aria-valuemax={progress.total || 1}
            className="mt-1 block h-[5px] bg-rule"
          >
            <span
              className="block h-full bg-river"
              style={{ width: `${progress.total ? (progress.done / progress.total) * 100 : 0}%` }}
            />
          </span>
          <span className="text-xs text-muted">
            All of it is one change: it is done whole or not at all, and can be undone.
          </span>
        </p>
      ) : (
        <div className="mt-4 flex gap-2">
          <Button kind="main" disabled={n <= 0} onClick={take} autoFocus>
            Take {n > 0 ? formatCount(n) : ''} to the Bench
          </Button>
          <Button onClick={onClose}>Not now</Button>
        </div>
      )}
    </Docket>
  );
}
