'use client';
import { proxy } from 'comlink';
import { useId, useRef, useState } from 'react';
import { countOf, formatCount } from '../../core/units';
import { useAnswer } from '../../ui/answer';
import { Button } from '../../ui/button';
import { downloadFile } from '../../ui/download';
import { Notice } from '../../ui/head';
import { say } from '../../ui/said';
import { failureInWords } from '../../work/context/failure';
import { theShop } from '../../work/desk/client';
import type { ShopTerms } from '../../work/quoting/worth';

/** The ledger of the days that are looked at, for the bookkeeper, with the codes of accounts. */
export function LedgerExport({
  shop,
  from,
  to,
  onDone,
}: {
  shop: ShopTerms;
  from: string;
  to: string;
  onDone: () => void;
}) {
  const id = useId();
  const kept = shop.settings.accounts ?? {};
  const [codes, setCodes] = useState<Readonly<Record<string, string>>>(kept);
  const [progress, setProgress] = useState<number | null>(null);
  const stopped = useRef(false);
  const accounts = useAnswer(() => theShop().ledgerAccounts(), []);
  const changed = JSON.stringify(codes) !== JSON.stringify(kept);
  const save = async () => {
    const said = await theShop().setAccountCodes(codes);
    await say(said.ok ? 'The codes are saved.' : said.reason, said.ok ? { undo: true } : { wrong: true });
  };
  const write = async () => {
    stopped.current = false;
    setProgress(0);
    try {
      const made = await theShop().ledgerFile(
        { from, to },
        proxy((orders: number) => {
          setProgress(orders);
          return !stopped.current;
        }),
      );
      if (!made) await say('The ledger was stopped.');
      else if (!made.lines) await say('No entry was made on these days.');
      else {
        downloadFile(`sampan-ledger-${from}-${to}.csv`, made.file);
        const left = made.unrated
          ? ` ${formatCount(made.unrated)} entries without an exchange rate are left out.`
          : '';
        await say(
          `${countOf(made.lines, 'line')} of ${countOf(made.orders, 'order')}; debit and credit ${made.balance === 0 ? 'balance' : 'do not balance'}.${left}`,
          { wrong: made.balance !== 0 },
        );
      }
    } catch (error) {
      await say(failureInWords(error), { wrong: true });
    }
    setProgress(null);
  };
  return (
    <div className="mx-4 mb-2 max-w-3xl">
      <Notice tone="plain">
        <p>
          The ledger from {from} to {to}: two lines an entry, debit and credit, by the day on which it was
          entered, with the order’s number as the document.
        </p>
        <details className="mt-1">
          <summary>Codes of accounts in your bookkeeper’s program</summary>
          <div className="mt-1 grid grid-cols-2 gap-x-4 gap-y-1">
            {accounts?.map((name, k) => (
              <label key={name} htmlFor={`${id}-${k}`} className="flex items-center gap-2 text-[13px]">
                <span className="grow">{name}</span>
                <input
                  id={`${id}-${k}`}
                  value={codes[name] ?? ''}
                  maxLength={20}
                  onChange={(e) => setCodes({ ...codes, [name]: e.target.value })}
                  className="w-28 rounded-sm border border-edge bg-surface px-1.5 py-0.5"
                />
              </label>
            ))}
          </div>
          <Button className="mt-2" disabled={!changed} onClick={save}>
            Save the codes
          </Button>
        </details>
        <div className="mt-2 flex items-center gap-2">
          <Button kind="main" disabled={progress !== null || changed} onClick={write}>
            Save the ledger as CSV
          </Button>
          {progress !== null && (
            <>
              <span role="status" className="text-muted">
                {formatCount(progress)} orders read …
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
          <Button kind="text" onClick={onDone}>
            Not now
          </Button>
        </div>
      </Notice>
    </div>
  );
}
