'use client';
import { useState } from 'react';
import { formatMoney } from '../../core/money';
import { countOf } from '../../core/units';
import { useAnswer } from '../../ui/answer';
import { Button } from '../../ui/button';
import { Notice } from '../../ui/head';
import { say } from '../../ui/said';
import { failureInWords } from '../../work/context/failure';
import { theShop } from '../../work/desk/client';
import type { MeantOrders } from '../../work/order-book/order-book';

/** What letting the checks of many orders pass would buy, before it is done. */
export function ReleaseMany({
  meant,
  version,
  books,
  onDone,
}: {
  meant: MeantOrders;
  version: string;
  books: string;
  onDone: () => void;
}) {
  const key = JSON.stringify(meant);
  const ahead = useAnswer(() => theShop().releaseAhead(meant), [key, version]);
  const [busy, setBusy] = useState(false);
  if (!ahead)
    return (
      <div className="px-4">
        <Notice>Looking at what they would cost …</Notice>
      </div>
    );
  const money = (minor: number, plus = false) => formatMoney({ minor, currency: books }, plus);
  const run = async () => {
    setBusy(true);
    try {
      const n = await theShop().releaseMeant(meant);
      await say(`${countOf(n, 'order')} released.`);
      onDone();
    } catch (error) {
      await say(failureInWords(error), { wrong: true });
      setBusy(false);
    }
  };
  return (
    <div className="px-4" role="group" aria-label="Release held orders">
      <Notice tone={ahead.losing ? 'loss' : 'person'}>
        {ahead.passes ? (
          <>
            Releasing buys for {countOf(ahead.passes, 'held order')}: {money(ahead.spends)} to suppliers,{' '}
            {money(ahead.earns, true)} profit expected
            {ahead.losing ? `; ${countOf(ahead.losing, 'order')} of them at a loss` : ''}. Let pass:{' '}
            {ahead.kinds.map((k) => `${k.kind} ${k.orders}`).join(', ') || 'nothing but what suppliers said'}.
          </>
        ) : (
          'None of them can be released.'
        )}{' '}
        {ahead.stays > 0 && `${countOf(ahead.stays, 'order')} stay held: nothing can be bought for them.`}
        <div className="mt-2 flex gap-2">
          <Button kind="main" disabled={busy || !ahead.passes} onClick={run}>
            Release {countOf(ahead.passes, 'order')} and buy
          </Button>
          <Button disabled={busy} onClick={onDone}>
            Keep them held
          </Button>
        </div>
      </Notice>
    </div>
  );
}
