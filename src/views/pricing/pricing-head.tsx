'use client';
import { countOf, formatCount, whenOf } from '../../core/units';
import { AtATime } from '../../ui/at-a-time';
import { Button } from '../../ui/button';
import { useNow } from '../../ui/clock';
import { Head, NeedsYou } from '../../ui/head';
import { say } from '../../ui/said';
import { theShop } from '../../work/desk/client';
import type { PlanRow } from '../../work/model';
import { beginPlansAt, laterProblem } from '../../work/pricing/plans-later';
import type { Draft } from './draft';

interface Props {
  readonly rules: Draft;
  /** Prices that would move; null while they are counted: nothing is saved unseen. */
  readonly moving: number | null;
  readonly zone: string;
}

/** Saves what was changed, now or from a time on, or drops it. */
export function PricingHead({
  rules: { draft, saved, changed, overtaken, problems, settle, discard },
  moving,
  zone,
}: Props) {
  const now = useNow();
  const wrong = overtaken
    ? 'Plans were changed elsewhere while you typed: say which to keep.'
    : (problems.find((p) => p.grave)?.says ??
      (moving === null ? 'Working out what would happen: one moment.' : undefined));
  const save = async (plans: readonly PlanRow[], saidOf: (told: number) => string) => {
    const done = await theShop().savePlans(plans, draft.stock);
    if (!done.ok) return say(done.reason, { wrong: true });
    settle(draft);
    await say(saidOf(done.told), { undo: true });
  };
  const saveNow = () =>
    save(draft.plans, (told) =>
      told
        ? `Saved. ${countOf(told, 'listing')} on the way to the marketplaces.`
        : 'Saved. No live listing had to change.',
    );
  const saveLater = (at: number, local: string) =>
    save(
      beginPlansAt(saved.plans, draft.plans, local, () => crypto.randomUUID()),
      () => `Saved. What you changed begins ${whenOf(at, now, zone)}; until then prices stay as they are.`,
    );
  const sameStock = JSON.stringify(saved.stock) === JSON.stringify(draft.stock);
  return (
    <Head
      name="Pricing"
      state={
        changed ? (
          <NeedsYou>changed, not saved</NeedsYou>
        ) : (
          'The first plan that covers a listing sets its price; an own price beats it.'
        )
      }
    >
      <Button disabled={!changed} onClick={discard}>
        Discard
      </Button>
      <Button kind="main" disabled={!changed || wrong !== undefined} title={wrong} onClick={saveNow}>
        Save{moving ? ` and change ${formatCount(moving)} ${moving === 1 ? 'price' : 'prices'}` : ''}
      </Button>
      <AtATime
        name="Begin at a time"
        label="From, in the time of each marketplace"
        verb="Begin"
        disabled={!changed || wrong !== undefined}
        zone={zone}
        now={now}
        problem={laterProblem(saved.plans, draft.plans, sameStock)}
        onPick={saveLater}
      />
    </Head>
  );
}
