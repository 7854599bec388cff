'use client';
import { useState } from 'react';
import { narrowedBy } from '../../core/query';
import { countOf, whenOf } from '../../core/units';
import { say } from '../../ui/said';
import { failureInWords } from '../../work/context/failure';
import { theShop } from '../../work/desk/client';
import type { Meant } from '../../work/memory/listing-list';
import type { MarketConnection } from '../../work/model';

/** The acts on products on the Bench; each reports its result. */
export interface BenchActs {
  /** What is being done, in words; '' while nothing is. */
  readonly busy: string;
  readonly approve: () => void;
  /** @param at not before; null for now */
  readonly publish: (at: number | null, asDraft?: boolean) => void;
  readonly tryAgain: () => void;
  readonly putBack: () => void;
  readonly listOn: (on: MarketConnection) => void;
}

/**
 * @param some products that are selected; null for the matches that an act fits
 * @param query the search line that the matches on the screen answer
 * @param market the marketplace that is looked at; null for all
 * @param onDone hears that rows left the Bench
 */
export function useBenchActs(
  some: Meant | null,
  query: string,
  market: string | null,
  now: number,
  zone: string,
  onDone: () => void,
): BenchActs {
  const [busy, setBusy] = useState('');
  const matches = (flag: string): Meant => some ?? { query: narrowedBy(query, `is:${flag}`) };
  const act = async <T>(
    doing: string,
    done: Promise<T>,
    words: (got: T) => string,
    undo: (got: T) => boolean,
    leaves = false,
  ) => {
    setBusy(doing);
    try {
      const got = await done;
      if (leaves) onDone();
      await say(words(got), { undo: undo(got) });
    } catch (error) {
      await say(failureInWords(error), { wrong: true });
    }
    setBusy('');
  };
  return {
    busy,
    approve: () =>
      act(
        'Approving …',
        theShop().approveMeant(matches('ready'), market),
        (done) =>
          `${countOf(done.approved, 'product')} approved${done.lacking ? `; ${done.lacking} lack something` : ''}.`,
        (done) => done.approved > 0,
      ),
    publish: (at, asDraft = false) => {
      const when = asDraft
        ? 'on the way as drafts'
        : at === null
          ? 'on the way'
          : `will be published ${whenOf(at, now, zone)}`;
      return act(
        'Queueing …',
        theShop().publishMeant(matches('approved'), market, at, asDraft),
        (done) =>
          done.queued
            ? `${countOf(done.queued, 'listing')} ${when}${done.left ? `; ${countOf(done.left, 'listing')} stayed` : ''}. Each result shows in its row.`
            : `Nothing was sent: ${countOf(done.left, 'listing')} ${done.left === 1 ? 'is' : 'are'} not approved, or ${done.left === 1 ? 'lacks' : 'lack'} something.`,
        () => false,
        true,
      );
    },
    tryAgain: () =>
      act(
        'Queueing …',
        theShop().tryAgain(matches('refused'), market),
        (done) => `${countOf(done.queued, 'listing')} on the way again.`,
        () => false,
      ),
    putBack: () =>
      some &&
      act(
        'Putting back …',
        theShop().putBackMeant(some, market),
        (n) => `${countOf(n, 'product')} put back.`,
        () => true,
        true,
      ),
    listOn: (on) =>
      some &&
      act(
        'Listing …',
        theShop().listMeant(some, market, on.id),
        (n) => `${countOf(n, 'listing')} for ${on.name}.`,
        (n) => n > 0,
      ),
  };
}
