'use client';
import { proxy } from 'comlink';
import { useRef, useState } from 'react';
import { useForm } from 'react-hook-form';
import { formatMinor, formatRate, parseMinor, parseRate } from '../../core/money';
import { countOf, formatCount } from '../../core/units';
import { useFeed } from '../../ui/asked';
import { Button } from '../../ui/button';
import { download, downloadFile } from '../../ui/download';
import { type Done, ExportProgress } from '../../ui/export-progress';
import { ROWS } from '../../ui/file-button';
import { say } from '../../ui/said';
import { TextFileButton } from '../../ui/text-file';
import { SALES_COLUMNS, saidOf, type WrittenFile } from '../../work/connections/market-files';
import { failureInWords } from '../../work/context/failure';
import { theShop } from '../../work/desk/client';
import type { MarketConnection } from '../../work/model';
import { FileColumns } from './file-columns';

interface Fields {
  name: string;
  currency: string;
  tax: 'inside' | 'added' | 'none';
  rate: string;
  share: string;
  fixed: string;
  shipsTo: string;
}

const LOOK = 'mt-0.5 block w-full rounded-sm border border-edge bg-surface px-1.5 py-1 text-sm text-ink';

const fieldsOf = (market: MarketConnection | undefined): Fields => {
  const said = market && saidOf(market);
  return {
    name: said?.name ?? '',
    currency: said?.currency ?? 'GBP',
    tax: said?.tax.model ?? 'inside',
    rate: formatRate(said?.tax.rate ?? 200_000),
    share: formatRate(said?.share ?? 0),
    fixed: said ? formatMinor(said.fixed, said.currency) : '0.00',
    shipsTo: said?.shipsTo.join(', ') ?? 'GB',
  };
};

/** The details of a shop without a service: its name, its currency, and its share of each sale. */
function FileMarketForm({ market, onDone }: { market?: MarketConnection; onDone: () => void }) {
  const { register, handleSubmit, formState, setError, watch } = useForm<Fields>({
    defaultValues: fieldsOf(market),
  });
  const save = async (f: Fields) => {
    const currency = f.currency.trim().toUpperCase();
    if (!/^[A-Z]{3}$/.test(currency)) return setError('currency', { message: 'Three letters, such as GBP.' });
    const [rate, share] = [parseRate(f.tax === 'none' ? '0' : f.rate), parseRate(f.share || '0')];
    if (!rate.ok) return setError('rate', { message: `${rate.reason}, such as 20 %.` });
    if (!share.ok) return setError('share', { message: `${share.reason}, such as 3 %.` });
    if (rate.value < 0 || rate.value > 500_000) return setError('rate', { message: 'From 0 % to 50 %.' });
    if (share.value < 0 || share.value > 500_000) return setError('share', { message: 'From 0 % to 50 %.' });
    const fixed = parseMinor(f.fixed || '0', currency);
    if (!fixed.ok || fixed.value < 0)
      return setError('fixed', { message: fixed.ok ? 'Not below zero.' : fixed.reason });
    const shipsTo = f.shipsTo
      .toUpperCase()
      .split(/[\s,;]+/)
      .filter(Boolean);
    if (!shipsTo.length || shipsTo.some((c) => !/^[A-Z]{2}$/.test(c)))
      return setError('shipsTo', { message: 'Country codes of two letters, such as GB, IE.' });
    const done = await theShop().keepFileMarket(
      {
        name: f.name,
        currency,
        tax: { model: f.tax, rate: rate.value },
        share: share.value,
        fixed: fixed.value,
        shipsTo,
      },
      market?.id,
    );
    if (!done.ok) return setError('name', { message: done.reason });
    await say(market ? `${done.name} is saved.` : `${done.name} is added. You can take goods for it now.`, {
      undo: Boolean(market),
    });
    onDone();
  };
  const field = (name: keyof Fields, label: string, hint = '') => (
    <label className="block text-xs text-muted">
      {label}
      <input
        {...register(name, { required: name === 'name' || name === 'currency' })}
        aria-invalid={Boolean(formState.errors[name])}
        className={LOOK}
      />
      {formState.errors[name] ? (
        <span role="alert" className="text-loss">
          {formState.errors[name]?.message || 'Required.'}
        </span>
      ) : (
        hint
      )}
    </label>
  );
  return (
    <form
      onSubmit={handleSubmit(save)}
      className="mt-3 grid gap-3 sm:grid-cols-2"
      aria-label={market ? `Change ${market.name}` : 'Add a file-based shop'}
    >
      {field('name', 'Name')}
      {field('currency', 'Currency', 'ISO code')}
      <label className="block text-xs text-muted">
        Tax on sales
        <select {...register('tax')} className={LOOK}>
          <option value="inside">included in the price (VAT)</option>
          <option value="added">added at checkout</option>
          <option value="none">none</option>
        </select>
      </label>
      {watch('tax') === 'none' ? <span /> : field('rate', 'Tax rate')}
      {field('share', 'Fee per order', 'percentage of the order total, including payment fees')}
      {field('fixed', 'Fixed fee per order', 'amount')}
      {field('shipsTo', 'Ships to', 'country codes')}
      <div className="flex items-end gap-2">
        <Button kind="main" type="submit">
          {market ? 'Save' : 'Add the shop'}
        </Button>
        <Button onClick={onDone}>Cancel</Button>
      </div>
    </form>
  );
}

/** Where a shop without a service is added. */
export function AddFileMarket() {
  const [open, setOpen] = useState(false);
  return (
    <div className="rounded-sm border border-dashed border-edge p-4">
      <h2 className="font-semibold">
        A shop without a service <span className="text-xs font-normal text-muted">marketplace, by files</span>
      </h2>
      <p className="mt-1 text-[13.5px] text-muted">
        Your own shop, or a marketplace that takes files: Sampan writes its listings, reads its sales, and
        writes what was shipped.
      </p>
      {open ? (
        <FileMarketForm onDone={() => setOpen(false)} />
      ) : (
        <div className="mt-3">
          <Button kind="main" onClick={() => setOpen(true)}>
            Add a file-based shop
          </Button>
        </div>
      )}
    </div>
  );
}

/** The files of a shop without a service: what it is to show and to be told goes out, its sales come in. */
export function MarketFiles({ market }: { market: MarketConnection }) {
  const [changing, setChanging] = useState(false);
  const [matching, setMatching] = useState(false);
  const waiting = useFeed('waitingFiles', market.id);
  const write = async (what: string, file: WrittenFile | null) => {
    if (!file) return say(`There is nothing to tell ${market.name}.`, { wrong: true });
    download(file.name, file.text);
    await say(`${countOf(file.rows, what)} written into ${file.name}. Hand it to ${market.name}.`);
  };
  const [done, setDone] = useState<Done | null>(null);
  const stopping = useRef(false);
  const writeListings = async () => {
    stopping.current = false;
    setDone({ n: 0, total: 0 });
    try {
      const written = await theShop().listingFile(
        market.id,
        proxy(async (n: number, total: number) => {
          setDone({ n, total });
          return stopping.current;
        }),
      );
      if (!written && stopping.current) return say('The export was stopped; nothing counts as told.');
      if (!written?.zip) return write('listing', written);
      downloadFile(written.zipName, written.zip);
      const { addresses, beside, missing } = written.pictures;
      const [first] = missing;
      await say(
        `${countOf(written.rows, 'listing')} written into ${written.zipName}: ${countOf(beside, 'picture')} beside the file${addresses ? `, ${formatCount(addresses)} named by address` : ''}${first ? `; ${countOf(missing.length, 'picture')} could not be had, the first ${first}` : ''}. Hand it to ${market.name}.`,
        { wrong: first !== undefined },
      );
    } catch (error) {
      await say(`The file was not written: ${failureInWords(error)}`, { wrong: true });
    } finally {
      setDone(null);
    }
  };
  const read = async (text: string, file: File) => {
    const done = await theShop().takeSalesFile(market.id, text);
    if (!done.ok) return say(`${file.name}: ${done.reason}`, { wrong: true });
    const [first] = done.refused;
    const bad = first
      ? `; ${countOf(done.refused.length, 'row')} not imported, the first on line ${first.line}: ${first.reason}`
      : '';
    await say(`${countOf(done.fresh, 'new order')} in ${file.name}, ${done.known} known${bad}.`, {
      wrong: first !== undefined,
    });
  };
  const answer = async (text: string, file: File) => {
    const done = await theShop().takeAnswerFile(market.id, text);
    if (!done.ok) return say(`${file.name}: ${done.reason}`, { wrong: true });
    const [first] = done.bad;
    const bad = first
      ? `; ${countOf(done.bad.length, 'row')} not used, the first on line ${first.line}: ${first.reason}`
      : '';
    await say(`${done.accepted} accepted, ${done.refused} refused in ${file.name}${bad}.`, {
      wrong: done.refused > 0 || first !== undefined,
    });
  };
  const count = (n: number | undefined) => (n ? ` (${n} new)` : '');
  return (
    <>
      <div className="mt-3 flex flex-wrap gap-2">
        <Button
          kind={waiting?.listings ? 'main' : undefined}
          disabled={done !== null}
          onClick={writeListings}
        >
          {done ? 'Exporting …' : `Export listings${count(waiting?.listings)}`}
        </Button>
        {done && done.total > 0 && (
          <ExportProgress
            done={done}
            onStop={() => {
              stopping.current = true;
            }}
          />
        )}
        <TextFileButton
          words="Import its answer"
          name={`Answer of ${market.name}`}
          accept={ROWS}
          onText={answer}
        />
        <TextFileButton words="Import sales" name={`Sales of ${market.name}`} accept={ROWS} onText={read} />
        <Button
          kind={waiting?.orders ? 'main' : undefined}
          title={waiting?.orders ? undefined : 'Exports the last one again'}
          onClick={async () => write('row', await theShop().dispatchFile(market.id, true))}
        >
          Export dispatches{count(waiting?.orders)}
        </Button>
        <Button kind="text" onClick={() => setMatching(!matching)}>
          Columns
        </Button>
        <Button kind="text" onClick={() => setChanging(!changing)}>
          Change what it takes
        </Button>
      </div>
      {matching && <FileColumns market={market} onDone={() => setMatching(false)} />}
      <details className="mt-2 text-[13px] text-muted">
        <summary className="cursor-default">Format of a sales file</summary>
        <p className="mt-1">
          One row for each line sold, comma, semicolon or tab separated, with a header row. Needed:{' '}
          <span className="font-mono text-ink">{SALES_COLUMNS.needed.join(', ')}</span>. Where known:{' '}
          <span className="font-mono">{SALES_COLUMNS.known.join(', ')}</span>. Times as 2026-11-26T14:05:00Z,
          amounts as 12.50.
        </p>
      </details>
      {changing && <FileMarketForm market={market} onDone={() => setChanging(false)} />}
    </>
  );
}
