'use client';
import Link from 'next/link';
import { useState } from 'react';
import { tallyInWords } from '../../core/catalogue';
import { type Match, REASON_COLUMN, writeDelimited } from '../../core/lists';
import { countOf, formatCount, spanOf, whenOf } from '../../core/units';
import { useFeed } from '../../ui/asked';
import { Button } from '../../ui/button';
import { useNow } from '../../ui/clock';
import { DropFile, LIST_FILES } from '../../ui/drop-file';
import { Empty, Head, Notice } from '../../ui/head';
import { Loading } from '../../ui/loading';
import { useLooks } from '../../ui/looks';
import { say } from '../../ui/said';
import { useShop } from '../../ui/shop';
import { theShop } from '../../work/desk/client';
import type { Job, ReadingRow, RefusedRow, SupplierConnection } from '../../work/model';
import type { Inspected } from '../../work/readings/dropped-lists';
import { doubtInWords } from '../../work/readings/words';
import { jobId } from '../../work/schedule/job';
import { MatchPicture } from './match-picture';
import { SupplierForm } from './supplier-form';

/**
 * Price lists of suppliers: files dropped here, addresses read on a schedule, how they are read and what each
 * reading brought.
 */
export function Lists() {
  const shop = useShop();
  const [picture, setPicture] = useState<{ supplier: SupplierConnection; inspected: Inspected } | null>(null);
  const [editing, setEditing] = useState<string | null>(null);
  /** Suppliers whose match is shown before their next list is read, though it is remembered. */
  const [shownFirst, setShownFirst] = useState<ReadonlySet<string>>(new Set());
  const matched = new Set(useFeed('matchedSuppliers') ?? []);
  const read = async (supplier: SupplierConnection, inspected: Inspected, match: Match): Promise<boolean> => {
    if (match.kind === 'catalogue' && match.currency !== supplier.currency) {
      await say(
        `${supplier.name} charges in ${supplier.currency}, the list is in ${match.currency}. Change one of them.`,
        { wrong: true },
      );
      return false;
    }
    const started = await theShop().startReading(supplier.id, inspected.file, match);
    if (!started.ok) {
      await say(started.reason, { wrong: true });
      return false;
    }
    setPicture(null);
    await say(
      inspected.remembered
        ? `${inspected.name} is read as the last list was.`
        : `${inspected.name} is being read; its match is remembered.`,
    );
    return true;
  };
  const looks = useLooks(async (supplier: SupplierConnection, inspected) => {
    if (inspected.remembered && !inspected.sample.problems.length && !shownFirst.has(supplier.id))
      return read(supplier, inspected, inspected.sample.match);
    setPicture({ supplier, inspected });
    return false;
  });
  const look = (supplier: SupplierConnection, ...files: File[]) =>
    looks.add(files.map((file) => ({ owner: supplier, file, name: file.name })));
  if (!shop) return <Loading name="Price lists" />;
  const suppliers = [...shop.connections.values()].filter(
    (c): c is SupplierConnection => c.role === 'supplier',
  );

  if (picture)
    return (
      <div className="flex min-w-0 grow flex-col">
        <Head
          name="Price lists"
          state="Say what each column is. The guess can be corrected here, and is remembered."
        />
        <MatchPicture
          inspected={picture.inspected}
          of={picture.supplier.name}
          action="Read the list"
          onRead={async (match) => {
            if (await read(picture.supplier, picture.inspected, match)) looks.next();
          }}
          onLeave={() => {
            void theShop().leaveFile(picture.inspected.file);
            setPicture(null);
            looks.next();
          }}
        />
      </div>
    );
  return (
    <section className="min-w-0 grow overflow-auto">
      <Head
        name="Price lists"
        state={suppliers.length ? 'CSV, TSV, XLSX, XML, JSON, or an archive of one.' : 'No supplier yet.'}
      >
        <Link href="/source" className="text-[13px] font-semibold text-river hover:underline">
          Back to Source
        </Link>
        <Button kind="main" onClick={() => setEditing('')}>
          Add a supplier
        </Button>
      </Head>
      <div className="max-w-4xl space-y-4 px-4 pb-8">
        {editing === '' && (
          <div className="rounded-sm border border-river bg-surface p-4">
            <h2 className="mb-2 font-semibold">A supplier that sends price lists</h2>
            <SupplierForm onDone={() => setEditing(null)} />
          </div>
        )}
        {!suppliers.length && editing === null && (
          <Empty title="Read a supplier’s price list">
            <p>
              Add the supplier with its name, currency and what a parcel costs. Then drop its list; what each
              column is gets guessed and shown on the first rows.
            </p>
            <Button kind="main" onClick={() => setEditing('')}>
              Add a supplier
            </Button>
          </Empty>
        )}
        {suppliers.map((supplier) => (
          <article
            key={supplier.id}
            aria-label={supplier.name}
            className="rounded-sm border border-rule bg-surface p-4"
          >
            <div className="flex items-baseline gap-3">
              <h2 className="font-semibold">{supplier.name}</h2>
              <span className="grow text-[13px] text-muted">
                {supplier.currency}
                {supplier.list === null
                  ? ', has a service; a list of stock or items can be read besides'
                  : supplier.list.kind === 'address'
                    ? `, list at ${supplier.list.url}`
                    : ', files by hand'}
              </span>
              {supplier.list !== null && (
                <Button kind="text" onClick={() => setEditing(editing === supplier.id ? null : supplier.id)}>
                  Change
                </Button>
              )}
            </div>
            {editing === supplier.id && (
              <div className="my-3">
                <SupplierForm supplier={supplier} onDone={() => setEditing(null)} />
              </div>
            )}
            <div className="mt-2 flex flex-wrap items-center gap-3">
              <DropFile
                words="Choose a price list"
                accept={LIST_FILES}
                looking={looks.looking?.owner.id === supplier.id ? looks.looking.name : null}
                onFiles={(files) => look(supplier, ...files)}
                onStop={looks.stop}
                onWrong={(says) => looks.tell(supplier, says)}
              />
              {supplier.list?.kind === 'address' && (
                <FetchNow
                  supplier={supplier}
                  byJob={matched.has(supplier.id) && !shownFirst.has(supplier.id)}
                  onFile={(blob, name) => look(supplier, new File([blob], name))}
                />
              )}
              {matched.has(supplier.id) && (
                <label className="flex items-center gap-1.5 text-[13px]">
                  <input
                    type="checkbox"
                    checked={shownFirst.has(supplier.id)}
                    onChange={(e) => {
                      const next = new Set(shownFirst);
                      if (e.target.checked) next.add(supplier.id);
                      else next.delete(supplier.id);
                      setShownFirst(next);
                    }}
                    className="accent-river"
                  />
                  Preview first
                </label>
              )}
            </div>
            {looks.wrong?.owner.id === supplier.id && (
              <div role="alert">
                <Notice tone="loss">{looks.wrong.says} The catalogue stays as it is.</Notice>
              </div>
            )}
            <Doubt supplier={supplier} />
            <Standing supplier={supplier} zone={shop.settings.zone} onFile={(file) => look(supplier, file)} />
          </article>
        ))}
      </div>
    </section>
  );
}

interface FetchProps {
  readonly supplier: SupplierConnection;
  /** Whether it is read without a look, by the match that is remembered. */
  readonly byJob: boolean;
  readonly onFile: (blob: Blob, name: string) => void;
}

/** Fetches the list at once, to match it or to see whether it changed. */
function FetchNow({ supplier, byJob, onFile }: FetchProps) {
  const [busy, setBusy] = useState(false);
  const job = useFeed('jobs', [jobId(supplier.id, 'catalogue')])?.[0];
  // After a list that could not be read as the one before, its match is what must be looked at.
  const known = byJob && job?.lastOk !== false;
  const fetchNow = async () => {
    if (known) return theShop().runNow(`${supplier.id}:catalogue`);
    setBusy(true);
    const got = await theShop().fetchToMatch(supplier);
    setBusy(false);
    if (!got.ok) return say(got.reason, { wrong: true });
    onFile(got.blob, got.name);
  };
  return (
    <Button disabled={busy} onClick={fetchNow}>
      {busy ? 'Fetching …' : known ? 'Fetch it now' : 'Fetch and match'}
    </Button>
  );
}

/** @param waits whether a list that is matched waits to be read: it was stopped, even before its first row */
function Progress({
  job,
  supplier,
  now,
  waits,
}: {
  job: Job;
  supplier: string;
  now: number;
  waits: boolean;
}) {
  const { running } = job;
  if (!running) {
    if (!job.progress && job.lastOk) return null;
    if (!job.progress && !waits)
      return job.lastSays ? <Notice tone="loss">{job.lastSays} The catalogue stays as it was.</Notice> : null;
    return (
      <Notice>
        {job.lastSays}. The catalogue is the one before until the list is read whole.
        <div className="mt-2 flex gap-2">
          <Button kind="main" onClick={() => theShop().runNow(job.id)}>
            Resume
          </Button>
          <Button onClick={() => theShop().giveUp(supplier)}>Discard</Button>
        </div>
      </Notice>
    );
  }
  const share = running.total ? running.done / running.total : 0;
  const seconds = Math.max(0.1, (now - running.startedAt) / 1000);
  const rows = running.rows ?? running.done;
  return (
    <div role="status" className="mt-3 text-[13.5px]">
      <div className="flex items-center gap-3">
        <span className="grow">
          {formatCount(rows)} rows read, {Math.floor(share * 100)} %
          {rows > 0 && seconds > 0.5 && `, ${formatCount(Math.round(rows / seconds))} a second`}
          {share > 0 &&
            share < 1 &&
            seconds > 1 &&
            `, ${spanOf((seconds / share) * (1 - share) * 1000)} left`}
        </span>
        <Button onClick={() => theShop().stopJob(job.id)}>Stop</Button>
      </div>
      <div
        role="progressbar"
        aria-label="Reading"
        aria-valuenow={Math.floor(share * 100)}
        aria-valuemax={100}
        className="mt-1 h-[5px] bg-rule"
      >
        <div className="h-full bg-river" style={{ width: `${share * 100}%` }} />
      </div>
    </div>
  );
}

const ASK_FROM_CHOICES: readonly (readonly [string, string])[] = [
  ['', 'ask as before'],
  ['500000', 'ask from half of the items on'],
  ['1000001', 'do not ask for the number alone'],
];

/** What a list did not name is kept until a person says that it is gone. */
function Doubt({ supplier }: { supplier: SupplierConnection }) {
  const doubt = useFeed('doubt', supplier.id);
  const [from, setFrom] = useState('');
  if (!doubt) return null;
  if (doubt.confirmed) return <Notice>{countOf(doubt.rows.length, 'item')} being taken out.</Notice>;
  return (
    <Notice>
      <b className="font-semibold">Gone?</b> {doubt.from || 'Its service'}: {doubtInWords(doubt)}. They stay
      as they were until you say so
      {doubt.some.length > 0 && (
        <>
          : <span className="font-mono">{doubt.some.join(', ')}</span>
          {doubt.rows.length > doubt.some.length &&
            ` and ${formatCount(doubt.rows.length - doubt.some.length)} more`}
        </>
      )}
      .
      <div className="mt-2 flex flex-wrap items-center gap-2">
        <Button kind="main" onClick={() => theShop().confirmGone(supplier.id, from ? Number(from) : null)}>
          {countOf(doubt.rows.length, 'item')} {doubt.rows.length === 1 ? 'is' : 'are'} gone
        </Button>
        <Button onClick={() => theShop().keepMissing(supplier.id)}>Keep them</Button>
        <label className="text-xs text-muted">
          Next time{' '}
          <select
            value={from}
            onChange={(e) => setFrom(e.target.value)}
            className="rounded-sm border border-edge bg-surface px-1 py-0.5 text-[13px] text-ink"
          >
            {ASK_FROM_CHOICES.map(([value, words]) => (
              <option key={value} value={value}>
                {words}
              </option>
            ))}
          </select>
        </label>
      </div>
    </Notice>
  );
}

/** The reading that runs, the results of the last ones, and the rows that the newest did not take. */
function Standing({
  supplier,
  zone,
  onFile,
}: {
  supplier: SupplierConnection;
  zone: string;
  onFile: (file: File) => void;
}) {
  const now = useNow(500);
  const seen = useFeed('readings', supplier.id);
  if (!seen) return null;
  return (
    <>
      {seen.jobs
        .filter((j) => j.task === 'list' || (supplier.list !== null && (j.running?.total || !j.lastOk)))
        .map((j) => (
          <Progress key={j.id} job={j} supplier={supplier.id} now={now} waits={seen.waits} />
        ))}
      {seen.readings.length > 0 && (
        <table className="mt-3 w-full table-fixed text-[13px]">
          <caption className="pb-0.5 text-left text-xs font-semibold text-muted">
            What the last readings brought
          </caption>
          <thead className="text-left text-xs text-muted">
            <tr>
              {Object.entries({ Read: 'w-32', From: 'w-48', Rows: 'w-20 pr-3 text-right', Changes: '' }).map(
                ([name, look]) => (
                  <th key={name} scope="col" className={`font-normal ${look}`}>
                    {name}
                  </th>
                ),
              )}
            </tr>
          </thead>
          <tbody>
            {seen.readings.map((r: ReadingRow) => (
              <tr key={r.id} className="border-t border-rule-soft">
                <th scope="row" className="py-1 pr-3 text-left font-normal whitespace-nowrap text-muted">
                  {now > 0 && whenOf(r.at, now, zone)}
                </th>
                <td className="max-w-48 truncate py-1 pr-3">{r.from || 'by service'}</td>
                <td className="py-1 pr-3 text-right">{formatCount(r.tally.read)}</td>
                <td className="py-1">{tallyInWords(r.tally)}</td>
              </tr>
            ))}
          </tbody>
        </table>
      )}
      {seen.refused.length > 0 && (
        <RefusedTable
          rows={seen.refused}
          supplier={supplier.name}
          delimiter={seen.delimiter ?? ','}
          onFile={onFile}
        />
      )}
    </>
  );
}

const SHOWN = 200;

interface RefusedProps {
  readonly rows: readonly RefusedRow[];
  readonly supplier: string;
  readonly delimiter: string;
  readonly onFile: (file: File) => void;
}

function RefusedTable({ rows, supplier, delimiter, onFile }: RefusedProps) {
  const all = rows.flatMap((r) => r.refused.map((one) => ({ ...one, header: r.header })));
  const left = all.filter((r) => r.cells !== null && r.header);
  const asked = left.filter((r) => r.asks);
  const count = { taken: all.filter((r) => r.taken).length, not: all.filter((r) => !r.taken).length };
  const fileOf = (of: typeof left, name: string) => {
    const header = of[0]!.header!;
    const text = writeDelimited(
      [[...header, REASON_COLUMN], ...of.map((r) => [...header.map((_, i) => r.cells![i] ?? ''), r.reason])],
      delimiter,
    );
    return new File([`﻿${text}`], name, { type: 'text/csv' });
  };
  const save = () => {
    const file = fileOf(left, `${supplier} rows to fix.csv`);
    const url = URL.createObjectURL(file);
    const link = document.createElement('a');
    link.href = url;
    link.download = file.name;
    link.click();
    setTimeout(() => URL.revokeObjectURL(url), 10_000);
  };
  return (
    <details className="mt-3 text-[13px]">
      <summary className="cursor-default font-semibold text-lamp">
        {countOf(all.length, 'remark')}: {countOf(count.not, 'row')} not taken, {countOf(count.taken, 'row')}{' '}
        imported with a value left out
      </summary>
      {left.length > 0 && (
        <p className="my-1.5">
          <Button onClick={save}>Save {countOf(left.length, 'row')} to mend</Button>{' '}
          <span className="text-muted">Fix the file and drop it above: it adds to the catalogue.</span>
        </p>
      )}
      {asked.length > 0 && (
        <p className="my-1.5">
          <Button onClick={() => onFile(fileOf(asked, `${supplier} costs taken as they are.csv`))}>
            Take {countOf(asked.length, 'cost')} as {asked.length === 1 ? 'it is' : 'they are'}
          </Button>{' '}
          <span className="text-muted">
            Costs ten times higher or lower than before: correct, or a shifted column?
          </span>
        </p>
      )}
      <div className="max-h-72 overflow-auto">
        <table className="w-full">
          <thead className="text-left text-xs text-muted">
            <tr>
              {['Line', 'SKU', 'Column', 'Value', 'What is wrong'].map((h) => (
                <th key={h} scope="col" className="py-1 pr-3 font-normal">
                  {h}
                </th>
              ))}
            </tr>
          </thead>
          <tbody>
            {all.slice(0, SHOWN).map((r, i) => (
              <tr key={`${r.line}-${i}`} className="border-t border-rule-soft align-top">
                <td className="py-0.5 pr-3">{r.line ?? ''}</td>
                <td className="py-0.5 pr-3 font-mono">{r.sku}</td>
                <td className="py-0.5 pr-3">{r.column ?? ''}</td>
                <td className="max-w-40 truncate py-0.5 pr-3 font-mono">{r.value}</td>
                <td className="py-0.5">
                  {r.reason}
                  {r.taken ? ' (the row was taken)' : ''}
                </td>
              </tr>
            ))}
          </tbody>
        </table>
        {all.length > SHOWN && (
          <p className="text-muted">and {formatCount(all.length - SHOWN)} more, in the file to fix.</p>
        )}
      </div>
    </details>
  );
}
