'use client';
import Link from 'next/link';
import { narrowedBy } from '../../core/query';
import { countOf, formatCount } from '../../core/units';
import { useAnswer } from '../../ui/answer';
import { Button } from '../../ui/button';
import { PageCommands } from '../../ui/commands';
import { EditsFileMenu } from '../../ui/edits-file-menu';
import { Head, NeedsYou } from '../../ui/head';
import type { useListingTools } from '../../ui/listing-tools';
import { countAmong, MarkedCount, MISREAD } from '../../ui/marked-count';
import type { Marked } from '../../ui/marks';
import { Menu } from '../../ui/menu';
import { say } from '../../ui/said';
import { theShop } from '../../work/desk/client';
import type { ListingsFound, Meant } from '../../work/memory/listing-list';
import type { ShopTerms } from '../../work/quoting/worth';
import { marketsOf, suppliersOf } from '../../work/quoting/worth';
import { jobId } from '../../work/schedule/job';

const NOTHING_TO_DO = {
  endMeant: 'None of them is on sale.',
  bringBackMeant: 'None of them was ended.',
  takeOutMeant: 'None of them is on sale or ended.',
};

interface Props {
  readonly shop: ShopTerms;
  readonly found: ListingsFound;
  readonly marks: Marked;
  /** What is marked; null for nothing. */
  readonly some: Meant | null;
  readonly tools: ReturnType<typeof useListingTools>;
  readonly grid: boolean;
  readonly onGrid: () => void;
  /** Shows those alone that need a person. */
  readonly onNeeding: () => void;
}

/** The counts of listings, and the acts on them. */
export function ListingsHead(props: Props) {
  const { shop, found, marks, some, tools, grid, onGrid, onNeeding } = props;
  const { total, steps, stepsAmong, leaps, query } = found;
  const misread = found.problems.length > 0;
  const onSteps = async () => {
    const n = await theShop().settleStepsMeant(some ?? { query: narrowedBy(query, 'is:step') }, true);
    await say(`${countOf(n, 'price step')} approved.`, { undo: n > 0 });
  };
  const onLeaps = async () => {
    const n = await theShop().takeLeapsMeant(some ?? { query: narrowedBy(query, 'is:leap') });
    await say(`${countOf(n, 'cost')} taken.`, { undo: n > 0 });
  };
  const readNow = async () => {
    for (const s of suppliersOf(shop)) await theShop().runNow(jobId(s.id, 'catalogue'));
    await say('The suppliers are read now; prices and quantities follow.');
  };
  return (
    <Head
      name="Listings"
      state={
        some ? (
          <MarkedCount marks={marks} matches={misread || grid ? 0 : found.matches} />
        ) : (
          <Counts shop={shop} found={found} onNeeding={onNeeding} />
        )
      }
    >
      <PageCommands
        commands={[
          !misread &&
            stepsAmong > 0 && { name: `Approve ${countAmong(stepsAmong, steps)} price steps`, run: onSteps },
          !misread && { name: `Select all ${formatCount(found.matches)} listings`, run: marks.markAll },
          some && {
            name: `Edit ${formatCount(marks.size)} selected`,
            run: () =>
              tools.open({ kind: 'edit', where: { view: 'listings', rows: some }, count: marks.size }),
          },
          { name: 'Read suppliers now', run: readNow },
          { name: grid ? 'Show as a table' : 'Show as a grid', run: onGrid },
          ...tools.setUp(some && { view: 'listings', rows: some }, marks.size),
        ]}
      />
      {leaps > 0 && (
        <Button disabled={!some && misread} title={misread ? MISREAD : undefined} onClick={onLeaps}>
          Take {some ? 'their' : formatCount(leaps)} new costs
        </Button>
      )}
      {steps > 0 && (
        <Button
          disabled={!some && (misread || stepsAmong === 0)}
          title={misread ? MISREAD : undefined}
          onClick={onSteps}
        >
          Approve {some ? 'their' : countAmong(stepsAmong, steps)} price steps
        </Button>
      )}
      {some && <ForMarked {...props} some={some} />}
      {total > 0 && (
        <Menu words="Set up" items={tools.setUp(some && { view: 'listings', rows: some }, marks.size)} />
      )}
      {!some && !grid && !misread && found.matches > 1 && (
        <Button onClick={marks.markAll}>Select all {formatCount(found.matches)}</Button>
      )}
      <Button aria-pressed={grid} onClick={onGrid}>
        {grid ? 'Table' : 'Grid'}
      </Button>
      <EditsFileMenu
        where={{ view: 'listings', rows: some ?? { query } }}
        count={marks.size || found.matches}
        onFile={(file) => tools.open({ kind: 'file', file })}
      />
      <Link href="/listings/groups" className="text-[13px] text-river underline">
        Groups
      </Link>
      <Link href="/listings/feeds" className="text-[13px] text-river underline">
        Feeds
      </Link>
      <Link
        href="/listings/bring-in"
        className="rounded-sm border border-edge px-2.5 py-1 text-[13px] font-semibold whitespace-nowrap text-river hover:bg-river-soft"
      >
        Bring in a shop
      </Link>
      <Button kind="main" disabled={!total} onClick={readNow}>
        Read suppliers now
      </Button>
    </Head>
  );
}

function Counts({ shop, found, onNeeding }: Pick<Props, 'shop' | 'found' | 'onNeeding'>) {
  const { total, live, paused, ended, unlinked, needYou } = found;
  return (
    <>
      {formatCount(total)} on {placesInWords(shop)}: {formatCount(live)} live, {formatCount(paused)} paused
      {ended > 0 && `, ${formatCount(ended)} ended`}
      {unlinked > 0 && (
        <>
          ,{' '}
          <Link href="/listings/bring-in" className="font-semibold text-lamp underline">
            {formatCount(unlinked)} not linked
          </Link>
        </>
      )}
      {needYou > 0 && (
        <>
          , <NeedsYou onLook={onNeeding}>{formatCount(needYou)} need you</NeedsYou>
        </>
      )}
    </>
  );
}

/** What can be done with marked listings alone. */
function ForMarked({ some, marks, tools }: Pick<Props, 'marks' | 'tools'> & { readonly some: Meant }) {
  const onSale = async (act: keyof typeof NOTHING_TO_DO, done: string) => {
    const n = await theShop()[act](some);
    if (act === 'takeOutMeant') marks.clear();
    await say(n ? `${countOf(n, 'listing')} ${done}.` : NOTHING_TO_DO[act], { undo: n > 0 });
  };
  return (
    <>
      <Menu
        words="On sale"
        items={[
          { name: 'End', run: () => onSale('endMeant', 'ended') },
          { name: 'Bring back', run: () => onSale('bringBackMeant', 'back on sale') },
          {
            name: 'Take out of Sampan',
            run: () => onSale('takeOutMeant', 'taken out; the marketplaces keep them as they are'),
          },
        ]}
      />
      <GroupMenu some={some} />
      <Button
        onClick={() =>
          tools.open({ kind: 'edit', where: { view: 'listings', rows: some }, count: marks.size })
        }
      >
        Edit {formatCount(marks.size)}
      </Button>
    </>
  );
}

/** Picks the products of marked listings into a group. */
function GroupMenu({ some }: { some: Meant }) {
  const groups = useAnswer(() => theShop().groups(), []);
  if (!groups?.length) return null;
  return (
    <Menu
      words="Group"
      items={groups.slice(0, MOST_GROUPS).map(({ id, name }) => ({
        name: `Pick into ${name}`,
        run: async () => {
          const done = await theShop().pickMeant(id, some, 'picked');
          await say(done.ok ? `Picked into “${name}”.` : done.reason, { undo: done.ok, wrong: !done.ok });
        },
      }))}
    />
  );
}

/** Groups that a menu offers at most. */
const MOST_GROUPS = 20;

function placesInWords(shop: ShopTerms): string {
  const names = marketsOf(shop).map((m) => m.name);
  return names.length > 2 ? `${names.length} marketplaces` : names.join(' and ') || 'no marketplace';
}
