'use client';
import { useState } from 'react';
import { formatMinor, parsePrice } from '../core/money';
import { mostCost, stepInWords } from '../core/pricing';
import type { PlanRow } from '../work/model';
import type { Quote } from '../work/quoting/solve';
import { AmountField } from './amount-field';
import { useProblemInWords } from './problem';
import { useShop } from './shop';

/** Each rule that moved a price, in order, and what its cost would have to be for a price that one wishes. */
export function WhyPrice({
  quote,
  plan,
  currency,
}: {
  quote: Quote;
  plan: PlanRow | null;
  currency: string;
}) {
  const m = (minor: number) => formatMinor(minor, currency);
  const { answer, priced, deductions, full } = quote;
  const shop = useShop();
  const nameOf = (id: string) => shop?.connections.get(id)?.name ?? id;
  const inWords = useProblemInWords(currency);
  return (
    <>
      {quote.by === 'own' ? (
        <p className="text-[13px]">
          {quote.problem ? inWords(quote.problem) : 'It is your own price; no plan moved it.'}
          {answer?.ok && ` The plan would ask ${m(answer.price)}.`}
        </p>
      ) : answer?.ok && plan ? (
        <ul className="list-disc pl-4 text-[13px]">
          {answer.steps.map((s) => (
            <li key={s.rule}>{stepInWords(s, currency, nameOf)}</li>
          ))}
          {full !== null && quote.price !== null && (
            <li>
              The sale is on: {m(full)} → {m(quote.price)}
            </li>
          )}
          {!answer.meetsTarget && <li className="text-lamp">The target is not reached at this price.</li>}
        </ul>
      ) : (
        <p className="text-[13px]">{quote.problem && inWords(quote.problem)}</p>
      )}
      {plan && priced && deductions && (
        <WishedPrice
          currency={currency}
          landed={priced.landed}
          costFor={(price) => mostCost(plan, priced, price, deductions)}
        />
      )}
    </>
  );
}

function WishedPrice({
  currency,
  landed,
  costFor,
}: {
  currency: string;
  landed: number;
  /** The most that it may cost to be sold for a price; null where no cost would do. */
  costFor: (price: number) => number | null;
}) {
  const [wished, setWished] = useState<number | null>(null);
  const m = (minor: number) => formatMinor(minor, currency);
  const cost = wished === null ? null : costFor(wished);
  return (
    <div className="mt-2 flex items-end gap-3">
      <AmountField
        label="Wished price"
        optional
        value={wished}
        write={m}
        parse={(t) => parsePrice(t, currency)}
        onChange={setWished}
      />
      {wished !== null && (
        <p role="status" className="grow text-[13px]">
          {cost === null ? (
            `The plan gives no price of ${m(wished)} or less, whatever it costs.`
          ) : (
            <>
              For {m(wished)} the landed cost may be {m(cost)}:{' '}
              {cost >= landed ? (
                'it is no more.'
              ) : (
                <b className="font-semibold">it must fall by {m(landed - cost)}.</b>
              )}
            </>
          )}
        </p>
      )}
    </div>
  );
}
