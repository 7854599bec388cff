'use client';
import { useState } from 'react';
import { useForm } from 'react-hook-form';
import { formatExchange, isCurrency, parseExchange } from '../../core/money';
import { countOf, dayName, dayOf, isDay } from '../../core/units';
import { useAhead } from '../../ui/ahead';
import { useFeed } from '../../ui/asked';
import { Button } from '../../ui/button';
import { DateField } from '../../ui/date-field';
import { Notice } from '../../ui/head';
import { say } from '../../ui/said';
import { TextFileButton } from '../../ui/text-file';
import { theShop } from '../../work/desk/client';
import type { RateRow } from '../../work/model';
import { type RatesOfFile, rateAsks } from '../../work/pricing/rates';
import type { ShopTerms } from '../../work/quoting/worth';
import { marketsOf, suppliersOf } from '../../work/quoting/worth';

/** Rates shown of each currency; older ones stay on record. */
const SHOWN = 4;
const LOOK = 'block rounded-sm border border-edge bg-surface px-1.5 py-1 text-sm text-ink';

/** Exchange rates on record, dated, each with where it came from; typed here or read from a file. */
export function RatesPanel({ shop, now }: { shop: ShopTerms; now: number }) {
  const { currency: books, zone } = shop.settings;
  const rates = useFeed('rates');
  const today = dayOf(now, zone);
  const used = [
    ...new Set([...suppliersOf(shop).map((s) => s.currency), ...marketsOf(shop).map((m) => m.site.currency)]),
  ].filter((c) => c !== books);
  const lacking = used.filter((c) => !shop.rates.by.has(c));
  const { register, handleSubmit, formState, setError, setValue, reset, watch } = useForm({
    defaultValues: { currency: lacking[0] ?? used[0] ?? '', day: today, rate: '' },
  });
  const typed = watch();
  const typedCurrency = typed.currency.trim().toUpperCase();
  const typedRate = parseExchange(typed.rate);
  const typedRow =
    isCurrency(typedCurrency) && typedCurrency !== books && isDay(typed.day) && typedRate.ok
      ? { currency: typedCurrency, books, day: typed.day, value: typedRate.value, origin: 'typed' as const }
      : null;
  const known = (rates ?? []).filter((r) => r.books === books);
  const ahead = useAhead(
    typedRow ? { rates: [typedRow] } : null,
    typedRow && rateAsks(typedRow, known),
    'Save the rate',
  );
  const [fromFile, setFromFile] = useState<(RatesOfFile & { ok: true; name: string }) | null>(null);
  const [removing, setRemoving] = useState<RateRow | null>(null);
  const save = handleSubmit(async (f) => {
    if (!ahead.ready && typedRow) return;
    const currency = f.currency.trim().toUpperCase();
    if (!isCurrency(currency))
      return setError('currency', { message: `“${currency}” is no currency of ISO 4217, such as USD` });
    if (currency === books) return setError('currency', { message: 'This is the currency of your books' });
    const rate = parseExchange(f.rate);
    if (!rate.ok) return setError('rate', { message: rate.reason });
    const told = await theShop().saveRate({ currency, day: f.day, value: rate.value, origin: 'typed' });
    reset({ currency, day: f.day, rate: '' });
    await say(
      `1 ${currency} is ${formatExchange(rate.value)} ${books} from ${dayName(f.day)} on${told ? `; ${countOf(told, 'listing')} on the way to the marketplaces` : ''}.`,
      { undo: true },
    );
  });
  const read = async (text: string, one: File) => {
    const done = await theShop().readRatesFile(text);
    if (!done.ok) return say(`${one.name}: ${done.reason}`, { wrong: true });
    setFromFile({ ...done, name: one.name });
  };
  const groups = byCurrency(rates ?? []);
  return (
    <section aria-label="Exchange rates" className="rounded-sm border border-rule bg-surface p-4">
      <h2 className="pb-1 font-semibold">Exchange rates</h2>
      {lacking.length > 0 && (
        <Notice>
          There is no rate for {lacking.join(' and ')} yet: what costs or sells in it has no price, and its
          orders no account.
        </Notice>
      )}
      {groups.length > 0 && (
        <table className="w-full text-[13.5px]">
          <thead className="text-left text-xs text-muted">
            <tr>
              <th scope="col" className="font-normal">
                One
              </th>
              <th scope="col" className="text-right font-normal">
                is {books}
              </th>
              <th scope="col" className="pl-3 font-normal">
                from
              </th>
              <th scope="col" className="font-normal">
                origin
              </th>
              <td />
            </tr>
          </thead>
          <tbody>
            {groups.flatMap((own) =>
              own.slice(0, SHOWN).map((r, k) => (
                <tr key={r.id} className={`border-t border-rule-soft ${k ? 'text-muted' : ''}`}>
                  <th scope="row" className="py-0.5 text-left font-normal">
                    {k ? '' : r.currency}
                  </th>
                  <td className="text-right">{formatExchange(r.value)}</td>
                  <td className="pl-3">{dayName(r.day)}</td>
                  <td>{r.origin}</td>
                  <td className="text-right">
                    <Button
                      kind="text"
                      className="py-0"
                      aria-label={`Remove ${r.currency} of ${dayName(r.day)}`}
                      onClick={() => setRemoving(r)}
                    >
                      Remove
                    </Button>
                  </td>
                </tr>
              )),
            )}
          </tbody>
        </table>
      )}
      <form onSubmit={save} className="mt-2 flex flex-wrap items-end gap-3">
        <label className="text-xs text-muted">
          One
          <input {...register('currency', { required: 'Needed' })} className={`${LOOK} w-16 uppercase`} />
        </label>
        <label className="text-xs text-muted">
          is {books}
          <input
            {...register('rate', { required: 'A rate is missing' })}
            inputMode="decimal"
            className={`${LOOK} w-24`}
          />
        </label>
        <DateField
          label="from"
          value={typed.day}
          onChange={(day) => day && setValue('day', day)}
          className="pb-1"
        />
        <Button kind="main" type="submit" disabled={typedRow !== null && !ahead.ready}>
          {ahead.saves}
        </Button>
        <TextFileButton
          words="Read a file"
          name="File of exchange rates"
          accept=".csv,text/csv"
          onText={read}
        />
      </form>
      {ahead.view}
      {fromFile && <FileOfRates file={fromFile} onDone={() => setFromFile(null)} />}
      {removing && <Removal rate={removing} onDone={() => setRemoving(null)} />}
      <p role="alert" className="text-[13px] text-loss">
        {formState.errors.currency?.message ??
          formState.errors.rate?.message ??
          formState.errors.day?.message ??
          ''}
      </p>
      <p className="text-xs text-muted">A file has the columns currency, day and rate.</p>
    </section>
  );
}

/** What a file of rates would do, before it is on record. */
function FileOfRates({
  file,
  onDone,
}: {
  file: RatesOfFile & { ok: true; name: string };
  onDone: () => void;
}) {
  const { rates, refused, asks, name } = file;
  const [first] = refused;
  const ahead = useAhead(rates.length ? { rates } : null, asks, `Save ${countOf(rates.length, 'rate')}`);
  return (
    <div role="group" aria-label={`Rates of ${name}`} className="mt-2 rounded-sm border border-rule p-2">
      <p className="text-[13px]">
        {name}: {countOf(rates.length, 'rate')}
        {first &&
          `; ${countOf(refused.length, 'row')} cannot be read, the first on line ${first.line}: ${first.reason}`}
        .
      </p>
      {ahead.view}
      <div className="mt-1 flex gap-2">
        {rates.length > 0 && (
          <Button
            kind="main"
            {...ahead.save}
            onClick={async () => {
              const told = await theShop().saveRates(rates);
              onDone();
              await say(
                `${countOf(rates.length, 'rate')} on record${told ? `; ${countOf(told, 'listing')} on the way to the marketplaces` : ''}.`,
                { undo: true },
              );
            }}
          >
            {ahead.saves}
          </Button>
        )}
        <Button onClick={onDone}>Cancel</Button>
      </div>
    </div>
  );
}

/** What taking a rate off the record would do. */
function Removal({ rate, onDone }: { rate: RateRow; onDone: () => void }) {
  const words = `the rate of ${rate.currency} of ${dayName(rate.day)}`;
  const ahead = useAhead({ withoutRate: rate.id }, null, `Remove ${words}`);
  return (
    <div role="group" aria-label={`Remove ${words}`} className="mt-2 rounded-sm border border-rule p-2">
      {ahead.view}
      <div className="mt-1 flex gap-2">
        <Button
          kind="main"
          {...ahead.save}
          onClick={async () => {
            await theShop().dropRate(rate);
            onDone();
            await say(`The rate of ${rate.currency} of ${dayName(rate.day)} is removed.`, { undo: true });
          }}
        >
          {ahead.saves}
        </Button>
        <Button onClick={onDone}>Cancel</Button>
      </div>
    </div>
  );
}

/** Rates by currency, the newest first in each. */
function byCurrency<T extends { readonly currency: string; readonly day: string }>(
  rates: readonly T[],
): T[][] {
  const groups = new Map<string, T[]>();
  for (const r of rates) groups.set(r.currency, [...(groups.get(r.currency) ?? []), r]);
  return [...groups.values()].map((own) => own.sort((a, b) => (a.day < b.day ? 1 : -1)));
}
