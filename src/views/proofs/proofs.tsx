'use client';
import { proxy } from 'comlink';
import Link from 'next/link';
import { useCallback, useEffect, useRef, useState } from 'react';
import { countOf, spanOf } from '../../core/units';
import { useAddress } from '../../ui/address';
import { useFeed } from '../../ui/asked';
import { useNow } from '../../ui/clock';
import { downloadFile } from '../../ui/download';
import { Empty, Head } from '../../ui/head';
import { Loading } from '../../ui/loading';
import { say } from '../../ui/said';
import { failureInWords } from '../../work/context/failure';
import { theShop } from '../../work/desk/client';
import type { Said } from '../../work/orders/actions';
import type { WaitingProof } from '../../work/orders/proofs';
import { Proof } from './proof';
import { ReadingRules } from './reading-rules';

const keyOf = ({ order, line }: Pick<WaitingProof, 'order' | 'line'>) => `${order} ${line}`;

/** Proofs of what is made with buyers' own words, one after the other: looked at, corrected, asked about, approved. */
export function ProofsPage() {
  const waiting = useFeed('waitingProofs');
  const { get, set } = useAddress();
  const now = useNow();
  const [ruling, setRuling] = useState(false);
  const [drawn, setDrawn] = useState<readonly [number, number, 'ahead' | 'pdf'] | null>(null);
  // What was approved here and is not told back yet: the next one stands there at once.
  const [left, setLeft] = useState<ReadonlySet<string>>(new Set());
  useEffect(() => {
    void theShop().drawProofs(
      proxy((done: number, total: number) => setDrawn(done < total ? [done, total, 'ahead'] : null)),
    );
    return () => void theShop().stopDrawingProofs();
  }, []);
  const open = waiting?.filter((w) => !left.has(keyOf(w))) ?? [];
  const chosen = get('proof');
  const at = Math.max(
    0,
    open.findIndex((w) => keyOf(w) === chosen),
  );
  const one = open[at];
  const go = useCallback(
    (by: number) => {
      const next = open[Math.min(open.length - 1, Math.max(0, at + by))];
      if (next) set({ proof: keyOf(next) });
    },
    [open, at, set],
  );
  const row = useRef<HTMLButtonElement>(null);
  useEffect(() => {
    if (one) row.current?.scrollIntoView({ block: 'nearest' });
  }, [one]);
  if (!waiting) return <Loading name="Proofs" />;
  const onPaper = async () => {
    setDrawn([0, waiting.length, 'pdf']);
    try {
      const file = await theShop().proofsPdf(
        proxy((done: number, total: number) => setDrawn([done, total, 'pdf'])),
      );
      if (file) downloadFile('proofs.pdf', file);
    } catch (error) {
      await say(failureInWords(error), { wrong: true });
    }
    setDrawn(null);
  };
  /** Goes on at once; what was approved follows, and comes back where it was not taken. */
  const approve = (proof: WaitingProof, doing: () => Promise<Said>) => {
    const key = keyOf(proof);
    const next = open[at + 1] ?? open[at - 1];
    setLeft((was) => new Set(was).add(key));
    if (next) set({ proof: keyOf(next) });
    const back = (reason: string) => {
      setLeft((was) => new Set([...was].filter((k) => k !== key)));
      void say(`${proof.number} was not approved: ${reason}`, { wrong: true });
    };
    void doing().then(
      (said) => {
        if (!said.ok) back(said.reason);
        else void say(`The proof of ${proof.number} is approved.`, { undo: true });
      },
      (error) => back(failureInWords(error)),
    );
  };
  return (
    <section className="flex min-w-0 grow flex-col">
      <Head
        name="Proofs"
        state={
          open.length
            ? `${countOf(open.length, 'piece')} made with buyers’ own words. Nothing goes to its maker before you approved it.${drawn ? ` ${drawn[2] === 'pdf' ? 'Onto paper' : 'Drawing ahead'}: ${drawn[0]} of ${drawn[1]}.` : ''}`
            : 'Nothing waits.'
        }
      >
        <Link href="/orders?q=is:personalised" className="text-[13px] text-river underline">
          Orders
        </Link>
        {open.length > 0 && (
          <button
            type="button"
            disabled={drawn !== null && drawn[2] === 'pdf'}
            onClick={onPaper}
            className="text-[13px] text-river underline"
          >
            As a PDF
          </button>
        )}
        <button type="button" onClick={() => setRuling(true)} className="text-[13px] text-river underline">
          How words are read
        </button>
      </Head>
      {ruling && <ReadingRules onDone={() => setRuling(false)} />}
      {!one ? (
        <Empty title="No proof waits">
          When a buyer orders something with words of their own, its proof stands here. What buyers are asked
          for is set where a design is placed, in the print room.
        </Empty>
      ) : (
        <div className="flex min-h-0 grow border-t border-rule">
          <ol
            aria-label="Proofs that wait"
            className="w-56 shrink-0 overflow-auto border-r border-rule bg-surface"
          >
            {open.map((w) => (
              <li key={keyOf(w)}>
                <button
                  ref={w === one ? row : undefined}
                  type="button"
                  aria-current={w === one}
                  onClick={() => set({ proof: keyOf(w) })}
                  className={`block w-full border-b border-rule-soft px-3 py-1.5 text-left text-[13px] ${w === one ? 'bg-river-soft' : 'hover:bg-raised'}`}
                >
                  <span className="block truncate font-semibold">
                    {w.units > 1 && `${w.units} × `}
                    {w.title}
                  </span>
                  <span className="block truncate text-muted">
                    <span className="font-mono text-xs">{w.number}</span>
                    {w.askedAt !== null
                      ? `, asked ${spanOf(now - w.askedAt)} ago`
                      : w.shipBy < now
                        ? `, late by ${spanOf(now - w.shipBy)}`
                        : `, ship in ${spanOf(w.shipBy - now)}`}
                  </span>
                </button>
              </li>
            ))}
          </ol>
          <Proof key={keyOf(one)} waiting={one} of={open.length} at={at} onGo={go} onApprove={approve} />
        </div>
      )}
    </section>
  );
}
