'use client';
import { useState } from 'react';
import { countOf, formatCount } from '../core/units';
import { theShop } from '../work/desk/client';
import type { MarketConnection } from '../work/model';
import { useAnswer } from './answer';
import { Button } from './button';
import { Docket } from './docket';
import { MarketSelect } from './market-select';
import { say } from './said';
import { useListingsVersion } from './versions';

/** What the suppliers' categories are on a marketplace: guessed, confirmed in bulk, chosen one by one. */
export function CategoriesDocket({
  markets,
  first,
  onClose,
}: {
  markets: readonly MarketConnection[];
  /** The marketplace that is looked at first. */
  first: string | null;
  onClose: () => void;
}) {
  const version = useListingsVersion();
  const [chosen, setChosen] = useState(first ?? markets[0]?.id ?? '');
  const market = markets.find((m) => m.id === chosen) ?? markets[0];
  const lines = useAnswer(() => (market ? theShop().categories(market.id) : []), [market, version]);
  if (!market || !lines) return null;
  const guesses = lines.filter((l) => !l.confirmed && l.category !== null);
  const unknown = lines.filter((l) => l.category === null).length;
  const save = async (said: Record<string, string | null>) => {
    const { sent } = await theShop().saveCategories(market.id, said);
    const n = Object.keys(said).length;
    await say(
      `${countOf(n, 'category', 'categories')} kept${sent ? `; ${countOf(sent, 'listing')} on the way to ${market.name}` : ''}.`,
      { undo: true },
    );
  };
  return (
    <Docket label="Categories" onClose={onClose}>
      <h2 className="text-base font-semibold">Categories on {market.name}</h2>
      <MarketSelect markets={markets} chosen={market.id} onChoose={setChosen} />
      <p className="mt-2 text-[13.5px]">
        {countOf(lines.length, 'supplier category', 'supplier categories')}: {formatCount(guesses.length)}{' '}
        guessed
        {unknown > 0 && <b className="font-semibold text-lamp">, {formatCount(unknown)} not known</b>}. Fees
        depend on the category; a product’s own category stays.
      </p>
      {guesses.length > 0 && (
        <div className="mt-2">
          <Button
            kind="main"
            onClick={() => save(Object.fromEntries(guesses.map((l) => [l.theirs, l.category])))}
          >
            Confirm {countOf(guesses.length, 'guess', 'guesses')}
          </Button>
        </div>
      )}
      <ul className="mt-2 text-[13.5px]">
        {lines.map((l) => (
          <li key={l.theirs} className="border-b border-rule-soft py-1.5">
            <label>
              <span className="flex gap-2">
                <span className="grow font-semibold">{l.theirs || 'No category'}</span>
                <span className="text-muted">{countOf(l.products, 'product')}</span>
              </span>
              <span className="block truncate text-xs text-muted">
                such as {l.example}
                {l.own > 0 && `; ${formatCount(l.own)} with one of their own`}
              </span>
              <select
                value={l.category ?? ''}
                onChange={(e) => save({ [l.theirs]: e.target.value || null })}
                className={`mt-0.5 w-full rounded-sm border bg-surface px-1.5 py-1 ${l.category === null ? 'border-lamp' : 'border-edge'}`}
              >
                <option value="">{l.confirmed ? 'Go back to the guess' : 'Not known: choose one'}</option>
                {market.site.categories.map((c) => (
                  <option key={c.id} value={c.id}>
                    {c.name}
                  </option>
                ))}
              </select>
            </label>
            <span className="text-xs text-muted">
              {l.confirmed ? 'Confirmed' : l.category ? 'Guessed' : ''}
            </span>
          </li>
        ))}
      </ul>
    </Docket>
  );
}
