'use client';
import { proxy } from 'comlink';
import { useRef, useState } from 'react';
import { countOf } from '../../core/units';
import { Button } from '../../ui/button';
import { downloadFile } from '../../ui/download';
import { ExportProgress } from '../../ui/export-progress';
import { say } from '../../ui/said';
import { failureInWords } from '../../work/context/failure';
import { theShop } from '../../work/desk/client';
import type { MeantOrders } from '../../work/order-book/order-book';

/** Makes one PDF of the packing slips of some orders, with progress and stop. */
export function PackingSlips({ meant, count, words }: { meant: MeantOrders; count: number; words: string }) {
  const [done, setDone] = useState<number | null>(null);
  const stopped = useRef(false);
  const make = async () => {
    stopped.current = false;
    setDone(0);
    try {
      const drawn = await theShop().packingSlips(
        meant,
        proxy((n: number) => {
          setDone(n);
          return !stopped.current;
        }),
      );
      if (drawn) {
        downloadFile('packing-slips.pdf', new Blob([drawn.bytes], { type: 'application/pdf' }));
        const [first] = drawn.lacking;
        await say(
          `${countOf(drawn.slips, 'packing slip')} in packing-slips.pdf.${
            first
              ? ` ${countOf(drawn.lacking.length, 'order')} has letters that no shipped font has, the first is ${first.number}: ${first.letters.slice(0, 5).join(' ')}`
              : ''
          }`,
          { wrong: first !== undefined },
        );
      }
    } catch (error) {
      await say(failureInWords(error), { wrong: true });
    }
    setDone(null);
  };
  if (done !== null)
    return (
      <ExportProgress
        done={{ n: done, total: count }}
        onStop={() => {
          stopped.current = true;
        }}
      />
    );
  return <Button onClick={make}>{words}</Button>;
}
