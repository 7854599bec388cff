'use client';
import { formatCount } from '../../core/units';
import { AtATime } from '../../ui/at-a-time';
import { Button } from '../../ui/button';
import { PageCommands } from '../../ui/commands';
import { EditsFileMenu } from '../../ui/edits-file-menu';
import { Head, NeedsYou } from '../../ui/head';
import type { useListingTools } from '../../ui/listing-tools';
import { countAmong, MarkedCount, MISREAD } from '../../ui/marked-count';
import { MarketSelect } from '../../ui/market-select';
import type { Marked } from '../../ui/marks';
import { Menu } from '../../ui/menu';
import type { BenchFound } from '../../work/memory/bench-lines';
import type { Meant } from '../../work/memory/listing-list';
import type { MarketConnection } from '../../work/model';
import type { BenchActs } from './acts';

interface Props {
  readonly found: BenchFound;
  readonly markets: readonly MarketConnection[];
  /** The marketplace that is looked at; null for all. */
  readonly market: string | null;
  readonly onMarket: (id: string) => void;
  readonly marks: Marked;
  /** What is marked; null for nothing. */
  readonly some: Meant | null;
  readonly acts: BenchActs;
  readonly tools: ReturnType<typeof useListingTools>;
  readonly grid: boolean;
  readonly onGrid: () => void;
  readonly now: number;
  readonly zone: string;
}

/** The counts of the Bench, and the acts on it. */
export function BenchHead(props: Props) {
  const { found, markets, market, onMarket, marks, some, acts, tools, grid, onGrid, now, zone } = props;
  const { total, ready, approved, among, query } = found;
  const misread = found.problems.length > 0;
  const busy = acts.busy !== '' || (misread && (some === null || marks.all));
  const toApprove = some ? marks.size : among.ready;
  const toPublish = some ? marks.size : among.approved;
  const withDrafts = markets.filter((m) => m.site.drafts && (market === null || m.id === market));
  return (
    <Head
      name="Bench"
      state={
        acts.busy ? (
          <span role="status">{acts.busy}</span>
        ) : some ? (
          <MarkedCount marks={marks} matches={misread || grid ? 0 : found.matches} />
        ) : (
          <Counts {...found} />
        )
      }
    >
      <PageCommands
        commands={[
          !busy && toApprove > 0 && { name: `Approve ${formatCount(toApprove)}`, run: acts.approve },
          !busy &&
            toPublish > 0 && { name: `Publish ${formatCount(toPublish)}`, run: () => acts.publish(null) },
          !misread && { name: `Select all ${formatCount(found.matches)} products`, run: marks.markAll },
          some && {
            name: `Edit ${formatCount(marks.size)} selected`,
            run: () =>
              tools.open({ kind: 'edit', where: { view: 'bench', rows: some, market }, count: marks.size }),
          },
          { name: grid ? 'Show as a table' : 'Show as a grid', run: onGrid },
          ...tools.setUp(some && { view: 'bench', rows: some, market }, marks.size),
        ]}
      />
      {some && <ForMarked {...props} some={some} />}
      {total > 0 && (
        <>
          <Menu
            words="Set up"
            items={tools.setUp(some && { view: 'bench', rows: some, market }, marks.size)}
          />
          <Button aria-pressed={grid} onClick={onGrid}>
            {grid ? 'Table' : 'Grid'}
          </Button>
          <EditsFileMenu
            where={{ view: 'bench', rows: some ?? { query }, market }}
            count={marks.size || found.matches}
            onFile={(file) => tools.open({ kind: 'file', file })}
          />
        </>
      )}
      <MarketSelect
        label="For"
        all="all marketplaces"
        markets={markets}
        chosen={market ?? ''}
        onChoose={onMarket}
      />
      {!some && !grid && !misread && found.matches > 1 && (
        <Button onClick={marks.markAll}>Select all {formatCount(found.matches)}</Button>
      )}
      <Button
        kind={toPublish ? 'quiet' : 'main'}
        disabled={!toApprove || busy}
        title={misread ? MISREAD : undefined}
        onClick={acts.approve}
      >
        Approve {some ? formatCount(toApprove) : countAmong(toApprove, ready)}
      </Button>
      <Button
        kind="main"
        disabled={!toPublish || busy}
        title={misread ? MISREAD : undefined}
        onClick={() => acts.publish(null)}
      >
        Publish {some ? formatCount(toPublish) : countAmong(toPublish, approved)}
      </Button>
      <AtATime
        name="Publish at a time or as drafts"
        label={`Not before, ${zone}`}
        verb="Publish"
        disabled={!toPublish || busy}
        zone={zone}
        now={now}
        onPick={(at) => acts.publish(at)}
      >
        {(close) =>
          withDrafts.length > 0 && (
            <Button
              className="mt-3"
              onClick={() => {
                acts.publish(null, true);
                close();
              }}
            >
              Leave as drafts on {withDrafts.map((m) => m.name).join(' and ')}
            </Button>
          )
        }
      </AtATime>
      {!some && among.refused > 0 && (
        <Button disabled={busy} onClick={acts.tryAgain}>
          Try {countAmong(among.refused, found.refused)} again
        </Button>
      )}
    </Head>
  );
}

function Counts({ total, ready, lacking, approved, publishing }: BenchFound) {
  if (total === 0) return 'Nothing here.';
  return (
    <>
      {formatCount(total)} here: {formatCount(ready)} ready, {formatCount(approved)} approved
      {publishing > 0 && `, ${formatCount(publishing)} being published`}
      {lacking > 0 && (
        <>
          , <NeedsYou>{formatCount(lacking)} need something</NeedsYou>
        </>
      )}
    </>
  );
}

/** What can be done with marked products alone. */
function ForMarked({ some, marks, market, markets, acts, tools }: Props & { readonly some: Meant }) {
  const busy = acts.busy !== '';
  return (
    <>
      <Button
        disabled={busy}
        onClick={() =>
          tools.open({ kind: 'edit', where: { view: 'bench', rows: some, market }, count: marks.size })
        }
      >
        Edit {formatCount(marks.size)}
      </Button>
      {markets.length > 1 && (
        <Menu words="List on" items={markets.map((on) => ({ name: on.name, run: () => acts.listOn(on) }))} />
      )}
      <Button disabled={busy} onClick={acts.putBack}>
        Put {formatCount(marks.size)} back
      </Button>
    </>
  );
}
