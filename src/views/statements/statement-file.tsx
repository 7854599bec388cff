'use client';
import { proxy } from 'comlink';
import { useId, useRef, useState } from 'react';
import { plainName } from '../../core/lists';
import { formatMinor } from '../../core/money';
import {
  APART_KINDS,
  DAY_ORDERS,
  type DayOrder,
  type LineKind,
  STATED_KINDS,
  STATEMENT_PARTS,
  type StatementColumn,
  type StatementForm,
  type WordMeaning,
} from '../../core/statements';
import { countOf, formatCount, writtenDay } from '../../core/units';
import { Button } from '../../ui/button';
import { Docket } from '../../ui/docket';
import { DropFile } from '../../ui/drop-file';
import { Notice, Section } from '../../ui/head';
import { say } from '../../ui/said';
import { failureInWords } from '../../work/context/failure';
import { theShop } from '../../work/desk/client';
import type { ShopTerms } from '../../work/quoting/worth';
import type { StatementFile } from '../../work/statements/file';
import { KIND } from './words';

const LOOK = 'rounded-sm border border-edge bg-surface px-1.5 py-0.5 text-sm text-ink';

const PART: Readonly<Record<(typeof STATEMENT_PARTS)[number], string>> = {
  order: 'Order or reference',
  day: 'Day',
  kind: 'What it is for',
  amount: 'Amount',
  'money in': 'Money in',
  'money out': 'Money out',
  currency: 'Currency',
  document: 'Reference of the line',
  text: 'Text',
};
const KINDS: readonly LineKind[] = [...STATED_KINDS, ...APART_KINDS];

/** Reads a statement file: whose it is, how its columns are matched, what it comes to; then it is taken in. */
export function StatementFileDocket({
  shop,
  onClose,
  onTaken,
}: {
  shop: ShopTerms;
  onClose: () => void;
  onTaken: (id: string) => void;
}) {
  const id = useId();
  const all = [...shop.connections.values()];
  const [from, setFrom] = useState(all[0]?.id ?? '');
  const [file, setFile] = useState<File | null>(null);
  const [seen, setSeen] = useState<StatementFile | null>(null);
  const [wrong, setWrong] = useState('');
  const [number, setNumber] = useState('');
  const [busy, setBusy] = useState(false);
  const [progress, setProgress] = useState<number | null>(null);
  const stopped = useRef(false);
  const look = async (of: string, read: File, form?: StatementForm) => {
    setBusy(true);
    setWrong('');
    try {
      const found = await theShop().lookAtStatement(of, read, form);
      if (found.ok) setSeen(found.value);
      else {
        setSeen(null);
        setWrong(`${read.name}: ${found.reason}`);
      }
    } catch (error) {
      setWrong(failureInWords(error));
    }
    setBusy(false);
  };
  const choose = (read: File) => {
    setFile(read);
    setNumber(read.name.replace(/\.[a-z]+$/i, '').slice(0, 60));
    look(from, read);
  };
  const change = (part: Partial<StatementForm>) =>
    seen && file && look(from, file, { ...seen.form, ...part });
  const take = async () => {
    if (!seen || !file) return;
    stopped.current = false;
    setProgress(0);
    try {
      const taken = await theShop().takeStatementFile(
        { from, file, form: seen.form, number },
        proxy((lines: number) => {
          setProgress(lines);
          return !stopped.current;
        }),
      );
      if (taken.ok) {
        await say(
          `${countOf(taken.orders, 'order')} compared: ${taken.differing ? `${formatCount(taken.differing)} differ` : 'all agree'}${taken.corrected ? `, ${formatCount(taken.corrected)} small ones taken as stated` : ''}.`,
        );
        onTaken(taken.id);
      } else setWrong(taken.reason);
    } catch (error) {
      setWrong(failureInWords(error));
    }
    setProgress(null);
  };
  const ready = seen && !seen.read.problems.length && !seen.read.unknown.length && seen.read.count > 0;
  return (
    <Docket label="Read a statement file" onClose={onClose}>
      <h2 className="text-base font-semibold">Read a statement file</h2>
      <label className="mt-2 flex items-center gap-2 text-[13.5px]">
        Of
        <select
          className={LOOK}
          value={from}
          onChange={(e) => {
            setFrom(e.target.value);
            if (file) look(e.target.value, file);
          }}
        >
          {all.map((c) => (
            <option key={c.id} value={c.id}>
              {c.name}
            </option>
          ))}
        </select>
      </label>
      <p className="my-1 text-xs text-muted">
        What a payment service sends for a marketplace’s sales is read as the marketplace’s.
      </p>
      <DropFile
        words="Choose a CSV or XLSX file"
        accept=".csv,.tsv,.txt,.xlsx,.zip"
        looking={busy ? (file?.name ?? '') : null}
        onFiles={([one]) => one && choose(one)}
        onWrong={setWrong}
      />
      {wrong && <Notice tone="loss">{wrong}</Notice>}
      {seen && (
        <>
          <Section
            title="Columns"
            aside={seen.remembered && <span className="font-normal">as they were matched before</span>}
          >
            <div className="space-y-1">
              {seen.header.map((name, k) => {
                const plain = plainName(name);
                return (
                  <label
                    key={`${plain} ${k}`}
                    htmlFor={`${id}-${k}`}
                    className="grid grid-cols-[1fr_1fr_150px] items-center gap-2 text-[13px]"
                  >
                    <span className="truncate font-semibold" title={name}>
                      {name || '–'}
                    </span>
                    <span className="truncate text-muted">{seen.rows[0]?.[k]}</span>
                    <select
                      id={`${id}-${k}`}
                      className={LOOK}
                      value={seen.form.columns[plain] ?? ''}
                      onChange={(e) => {
                        const { [plain]: _, ...others } = seen.form.columns;
                        const column = e.target.value as StatementColumn | '';
                        change({ columns: column ? { ...others, [plain]: column } : others });
                      }}
                    >
                      <option value="">not read</option>
                      <optgroup label="Parts of a line">
                        {STATEMENT_PARTS.map((part) => (
                          <option key={part} value={part}>
                            {PART[part]}
                          </option>
                        ))}
                      </optgroup>
                      <optgroup label="Amounts of one kind">
                        {KINDS.map((kind) => (
                          <option key={kind} value={kind}>
                            {KIND[kind]}
                          </option>
                        ))}
                      </optgroup>
                    </select>
                  </label>
                );
              })}
            </div>
            <div className="mt-2 flex flex-wrap gap-4 text-[13px]">
              <label className="flex items-center gap-1.5">
                Decimals
                <select
                  className={LOOK}
                  value={seen.form.decimal}
                  onChange={(e) => change({ decimal: e.target.value as '.' | ',' })}
                >
                  <option value=".">1,234.50</option>
                  <option value=",">1.234,50</option>
                </select>
              </label>
              <label className="flex items-center gap-1.5">
                Days
                <select
                  className={LOOK}
                  value={seen.form.days}
                  onChange={(e) => change({ days: e.target.value as DayOrder })}
                >
                  {DAY_ORDERS.map((order) => (
                    <option key={order} value={order}>
                      {order}
                    </option>
                  ))}
                </select>
              </label>
            </div>
          </Section>
          {seen.read.problems.map((p) => (
            <Notice key={p} tone="loss">
              {p}
            </Notice>
          ))}
          {(seen.read.unknown.length > 0 || Object.keys(seen.form.words).length > 0) && (
            <Section title="What its words stand for">
              {[
                ...seen.read.unknown.map(
                  (u) => [plainName(u.word), `${u.word || '(empty)'} (${formatCount(u.rows)})`] as const,
                ),
                ...Object.keys(seen.form.words).map((w) => [w, w] as const),
              ].map(([plain, shown]) => (
                <label key={plain} className="flex items-center gap-2 py-0.5 text-[13px]">
                  <span className={`grow ${seen.form.words[plain] ? '' : 'font-semibold text-lamp'}`}>
                    {shown}
                  </span>
                  <select
                    className={LOOK}
                    value={seen.form.words[plain] ?? ''}
                    onChange={(e) => {
                      const { [plain]: _, ...others } = seen.form.words;
                      const meaning = e.target.value as WordMeaning | '';
                      change({ words: meaning ? { ...others, [plain]: meaning } : others });
                    }}
                  >
                    <option value="">say what it is</option>
                    <option value="nothing">Nothing that counts</option>
                    <option value="total">The total</option>
                    {KINDS.map((kind) => (
                      <option key={kind} value={kind}>
                        {KIND[kind]}
                      </option>
                    ))}
                  </select>
                </label>
              ))}
            </Section>
          )}
          <Section title={`What it comes to: ${countOf(seen.read.count, 'line')}`}>
            <table className="w-full text-[13.5px]">
              <caption className="sr-only">Sums as they would be taken</caption>
              <tbody>
                {seen.read.sums.map((s) => (
                  <tr key={`${s.kind} ${s.currency}`}>
                    <th scope="row" className="py-1.5 text-left font-normal">
                      {KIND[s.kind]}
                    </th>
                    <td className="text-right">{formatMinor(s.minor, s.currency, true)}</td>
                    <td className="pl-3">
                      <label className="flex items-center gap-1 text-xs text-muted">
                        <input
                          type="checkbox"
                          className="accent-river"
                          checked={seen.form.turned.includes(s.kind)}
                          onChange={(e) =>
                            change({
                              turned: e.target.checked
                                ? [...seen.form.turned, s.kind]
                                : seen.form.turned.filter((k) => k !== s.kind),
                            })
                          }
                          aria-label={`Turn the sign of ${KIND[s.kind]} round`}
                        />
                        turn the sign
                      </label>
                    </td>
                  </tr>
                ))}
              </tbody>
            </table>
            {seen.read.odd.length > 0 && (
              <Notice>
                {seen.read.odd.map((k) => KIND[k]).join(', ')} would count the other way than usual: what is
                taken from you stands below nothing here. Turn the sign round, or leave it if it is meant so.
                <div className="mt-1">
                  <Button
                    onClick={() => change({ turned: [...new Set([...seen.form.turned, ...seen.read.odd])] })}
                  >
                    Turn them round
                  </Button>
                </div>
              </Notice>
            )}
            {seen.read.firstDay && (
              <p className="text-[13px] text-muted">
                {writtenDay(seen.read.firstDay)} to {writtenDay(seen.read.lastDay)}.
              </p>
            )}
            {seen.read.refused.length > 0 && (
              <Notice tone="loss">
                These rows are left out:
                <ul className="max-h-40 overflow-auto">
                  {seen.read.refused.map((r) => (
                    <li key={r.line}>
                      Line {r.line}: {r.reason}
                    </li>
                  ))}
                </ul>
              </Notice>
            )}
          </Section>
          <label className="mt-3 flex items-center gap-2 text-[13.5px]">
            Its number
            <input
              className={`${LOOK} grow`}
              maxLength={60}
              value={number}
              onChange={(e) => setNumber(e.target.value)}
            />
          </label>
          <div className="mt-2 flex items-center gap-2">
            <Button kind="main" disabled={!ready || busy || progress !== null} onClick={take}>
              Take it in
            </Button>
            {progress !== null && (
              <>
                <span role="status" className="text-[13px] text-muted">
                  {formatCount(progress)} of {formatCount(seen.read.count)} lines …
                </span>
                <Button
                  onClick={() => {
                    stopped.current = true;
                  }}
                >
                  Stop
                </Button>
              </>
            )}
          </div>
        </>
      )}
    </Docket>
  );
}
