'use client';
import { proxy } from 'comlink';
import Link from 'next/link';
import { useMemo, useState } from 'react';
import { countOf, formatCount } from '../../core/units';
import { useAddress } from '../../ui/address';
import { useAnswer } from '../../ui/answer';
import { useFeed } from '../../ui/asked';
import { Button } from '../../ui/button';
import { Choice } from '../../ui/choice';
import { Empty, Head, Notice, Section } from '../../ui/head';
import { Loading } from '../../ui/loading';
import { say } from '../../ui/said';
import { useShop } from '../../ui/shop';
import { failureInWords } from '../../work/context/failure';
import { theShop } from '../../work/desk/client';
import type { WholeSheet } from '../../work/print/sheets';
import { marketsOf } from '../../work/quoting/worth';

import { Prices } from './product-prices';
import { Designs } from './product-rows';
/** What would come of a sheet, before it is made. */
export function Products() {
  const { get } = useAddress();
  const whole = useFeed('sheet', get('sheet'));
  const shop = useShop();
  if (whole === undefined || !shop) return <Loading name="Printed products" />;
  if (whole === null || !whole.lines.length)
    return (
      <section className="flex min-w-0 grow flex-col">
        <Head name="Printed products" state="No design lies on this sheet." />
        <Empty title="Nothing to make">
          <p>Place designs on a blank first.</p>
          <Link href="/print-room" className="text-river underline">
            To the print room
          </Link>
        </Empty>
      </section>
    );
  return <Open whole={whole} />;
}

/** No category is chosen. */
const GUESSED = 'guessed from the texts';

const toggled = (all: readonly string[], chosen: readonly string[], one: string) =>
  all.filter((x) => (x === one ? !chosen.includes(x) : chosen.includes(x)));

function Open({ whole }: { whole: WholeSheet }) {
  const { sheet, blank } = whole;
  const shop = useShop()!;
  const scenes = useAnswer(() => theShop().scenes(blank.id), [blank.id]);
  const allMarkets = useMemo(() => marketsOf(shop), [shop]);
  const [markets, setMarkets] = useState<readonly string[]>(() => allMarkets.slice(0, 1).map((m) => m.id));
  const [sizes, setSizes] = useState<readonly string[]>(blank.sizes);
  const [own, setOwn] = useState<readonly string[] | null>(null);
  const [except, setExcept] = useState<readonly string[]>([]);
  const [copy, setCopy] = useState('');
  const [categories, setCategories] = useState<Readonly<Record<string, string>>>({});
  const [at, setAt] = useState<{ done: number; total: number } | null>(null);
  const [failed, setFailed] = useState<readonly string[]>([]);
  const [turn, setTurn] = useState(0);
  const chosenScenes = own ?? (scenes ?? []).map((s) => s.id);
  const wanted = {
    sheet: sheet.id,
    colours: sheet.colours,
    sizes,
    markets,
    categories: Object.fromEntries(markets.flatMap((m) => (categories[m] ? [[m, categories[m]]] : []))),
    copy: copy || null,
    scenes: chosenScenes,
    except,
  };
  const key = JSON.stringify(wanted);
  const stamp = JSON.stringify(sheet);
  const planned = useAnswer(
    () => (scenes ? theShop().planProducts(wanted) : undefined),
    [key, stamp, turn, scenes],
    120,
  );
  const make = async () => {
    setAt({ done: 0, total: 0 });
    setFailed([]);
    try {
      const made = await theShop().makeProducts(
        wanted,
        proxy((done: number, total: number) => setAt({ done, total })),
      );
      setFailed(made.failed);
      await say(
        made.products
          ? `${countOf(made.products, 'product')} with ${countOf(made.listings, 'listing')} went to the Bench${made.stopped ? ', then it was stopped' : ''}.`
          : 'Nothing went to the Bench.',
        { undo: made.products > 0 },
      );
    } catch (error) {
      await say(`Nothing was made: ${failureInWords(error)}`, { wrong: true });
    } finally {
      setAt(null);
      setTurn((n) => n + 1);
    }
  };
  const templates = [...shop.templates.values()];
  return (
    <section className="flex min-w-0 grow flex-col">
      <Head
        name={`Products of ${sheet.name}`}
        state={
          planned
            ? `${countOf(planned.products, 'product')}, ${countOf(planned.variants, 'variant')}, ${countOf(planned.listings, 'listing')}, ${countOf(planned.pictures, 'picture')} would come of it.`
            : 'Reckoning …'
        }
      >
        <Link
          href={`/print-room/sheet?id=${encodeURIComponent(sheet.id)}`}
          className="text-[13px] text-river hover:underline"
        >
          Back to the sheet
        </Link>
        {at && <Button onClick={() => void theShop().stopPrinting()}>Stop</Button>}
        <Link href="/bench" className="text-[13px] text-river hover:underline">
          Bench
        </Link>
        <Button
          kind="main"
          disabled={!planned?.products || at !== null || !markets.length}
          title={markets.length ? undefined : 'Choose a marketplace'}
          onClick={() => void make()}
        >
          Make {planned?.products ? formatCount(planned.products) : ''} for the Bench
        </Button>
      </Head>
      {at && (
        <p role="status" className="px-4 pb-1 text-[13.5px]">
          {at.total ? `${formatCount(at.done)} of ${formatCount(at.total)} designs pictured` : 'Gathering …'}
          <span
            role="progressbar"
            aria-label="Making products"
            aria-valuenow={at.done}
            aria-valuemax={at.total || 1}
            className="mt-1 block h-[5px] bg-rule"
          >
            <span
              className="block h-full bg-river"
              style={{ width: `${at.total ? (at.done / at.total) * 100 : 0}%` }}
            />
          </span>
        </p>
      )}
      <div className="flex min-h-0 grow border-t border-rule">
        <div className="min-w-0 grow overflow-auto">
          {failed.length > 0 && (
            <div className="px-4">
              <Notice>
                <b className="font-semibold">{countOf(failed.length, 'design')} not made</b>
                <ul className="list-disc pl-5">
                  {failed.slice(0, 10).map((f) => (
                    <li key={f}>{f}</li>
                  ))}
                </ul>
              </Notice>
            </div>
          )}
          {planned && (
            <Designs
              rows={planned.rows}
              onLeave={(id) =>
                setExcept((now) => (now.includes(id) ? now.filter((x) => x !== id) : [...now, id]))
              }
            />
          )}
        </div>
        <aside
          aria-label="What they are made of"
          className="w-[420px] shrink-0 overflow-auto border-l border-rule bg-surface px-4 pb-6"
        >
          <Section title="Marketplaces">
            <Boxes
              all={allMarkets.map((m) => [m.id, m.name])}
              chosen={markets}
              onChange={(id) =>
                setMarkets(
                  toggled(
                    allMarkets.map((m) => m.id),
                    markets,
                    id,
                  ),
                )
              }
            />
          </Section>
          <Section title="Categories">
            {allMarkets
              .filter((m) => markets.includes(m.id))
              .map((m) => (
                <Choice
                  key={m.id}
                  label={`On ${m.name}`}
                  value={m.site.categories.find((c) => c.id === categories[m.id])?.name ?? GUESSED}
                  choices={[GUESSED, ...m.site.categories.map((c) => c.name)]}
                  onChange={(name) =>
                    setCategories({
                      ...categories,
                      [m.id]: m.site.categories.find((c) => c.name === name)?.id ?? '',
                    })
                  }
                />
              ))}
          </Section>
          {blank.sizes.length > 1 && (
            <Section title="Sizes">
              <Boxes
                all={blank.sizes.map((s) => [s, s])}
                chosen={sizes}
                onChange={(s) => setSizes(toggled(blank.sizes, sizes, s))}
              />
            </Section>
          )}
          {blank.colours.length > 1 && (
            <Section title="Colours">
              <p className="text-[13.5px]">
                {sheet.colours.join(', ')}. <span className="text-muted">Chosen on the sheet.</span>
              </p>
            </Section>
          )}
          <Section title="Pictures">
            {scenes?.length ? (
              <>
                <Boxes
                  all={scenes.map((s) => [s.id, s.name])}
                  chosen={chosenScenes}
                  onChange={(id) =>
                    setOwn(
                      chosenScenes.includes(id)
                        ? chosenScenes.filter((s) => s !== id)
                        : [...chosenScenes, id],
                    )
                  }
                />
                {chosenScenes.length > 1 && (
                  <label className="mt-1 flex items-center gap-1.5 text-[13px]">
                    <span className="text-muted">First picture</span>
                    <select
                      value={chosenScenes[0]}
                      onChange={(e) =>
                        setOwn([e.target.value, ...chosenScenes.filter((s) => s !== e.target.value)])
                      }
                      className="rounded-sm border border-edge bg-surface px-1 py-0.5"
                    >
                      {chosenScenes.map((id) => (
                        <option key={id} value={id}>
                          {scenes.find((s) => s.id === id)?.name}
                        </option>
                      ))}
                    </select>
                  </label>
                )}
                <p className="text-xs text-muted">
                  The first is made in each colour, the others in the first colour.
                </p>
              </>
            ) : (
              <p className="text-[13.5px] text-muted">There is no scene of this blank.</p>
            )}
          </Section>
          <Section title="Texts">
            <label className="flex items-center gap-1.5 text-[13.5px]">
              <span className="text-muted">Copy template</span>
              <select
                value={copy}
                onChange={(e) => setCopy(e.target.value)}
                className="rounded-sm border border-edge bg-surface px-1 py-0.5"
              >
                <option value="">none: the design’s name and the goods</option>
                {templates.map((t) => (
                  <option key={t.id} value={t.id}>
                    {t.name}
                  </option>
                ))}
              </select>
            </label>
            <p className="text-xs text-muted">
              Templates know {'{design}, {goods}, {keywords}, {set}'} of each product.
            </p>
          </Section>
          {planned && <Prices planned={planned} />}
        </aside>
      </div>
    </section>
  );
}

function Boxes({
  all,
  chosen,
  onChange,
}: {
  all: readonly (readonly [string, string])[];
  chosen: readonly string[];
  onChange: (id: string) => void;
}) {
  return (
    <div className="flex flex-wrap gap-x-4 gap-y-1 text-[13.5px]">
      {all.map(([id, name]) => (
        <label key={id} className="flex min-h-7 items-center gap-1.5">
          <input
            type="checkbox"
            checked={chosen.includes(id)}
            onChange={() => onChange(id)}
            className="size-3.5 accent-river"
          />
          {name}
        </label>
      ))}
    </div>
  );
}
