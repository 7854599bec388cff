'use client';
import { plainText } from '../../core/copy';
import { formatMinor, formatMoney } from '../../core/money';
import { Button } from '../../ui/button';
import { Notice } from '../../ui/head';
import { useProblemInWords } from '../../ui/problem';
import { say } from '../../ui/said';
import { theShop } from '../../work/desk/client';
import { driftInWords } from '../../work/listings/drift';
import type { ListingInFull } from '../../work/memory/listing-list';
import type { MarketConnection } from '../../work/model';
import { titleOf } from '../../work/quoting/copy';

interface Props {
  readonly row: ListingInFull;
  readonly market: MarketConnection | undefined;
  readonly currency: string;
  /** Lets it follow its plan again. */
  readonly onFollowPlan: () => void;
}

/** The problems of a listing that need a person, each with the acts that solve it. */
export function ListingNotices(props: Props) {
  return (
    <>
      <Leapt {...props} />
      <Held {...props} />
      <Losing {...props} />
      <EditedThere {...props} />
      <NotYetSent {...props} />
    </>
  );
}

/** Its cost leapt: the old one goes on until somebody has looked. */
function Leapt({ row: { listing, item } }: Props) {
  if (!item?.leap) return null;
  const m = (minor: number) => formatMoney({ minor, currency: item.currency });
  return (
    <Notice>
      <b className="font-semibold">
        Its cost leapt: {m(item.cost)} → {m(item.leap.cost)}.
      </b>{' '}
      Its price goes on with the old cost until you say so; what is ordered meanwhile is checked at the new
      one.
      <span className="mt-1 flex gap-2">
        <Button
          kind="main"
          onClick={async () => {
            await theShop().takeLeaps([listing.id]);
            await say(`${item.item} costs ${m(item.leap!.cost)} now.`, { undo: true });
          }}
        >
          Take the new cost
        </Button>
      </span>
    </Notice>
  );
}

function Held({ row: { listing, quote }, currency, onFollowPlan }: Props) {
  const inWords = useProblemInWords(currency);
  if (!listing.problem) return null;
  const broken = listing.ownPrice !== null && !listing.held;
  const m = (minor: number) => formatMinor(minor, currency);
  const settle = async (go: boolean) => {
    await theShop().settleSteps([listing.id], go);
    await say(
      go ? `${listing.sku} goes to its new price.` : `${listing.sku} keeps its price as an own one.`,
      { undo: true },
    );
  };
  return (
    <Notice>
      <b className="font-semibold">
        {listing.published?.quantity === 0 ? 'Held back, none shown' : 'Held'} at{' '}
        {listing.published ? m(listing.published.price) : 'its price'}.
      </b>{' '}
      {inWords(listing.problem)}{' '}
      {listing.held ? (
        <span className="mt-1 flex gap-2">
          <Button kind="main" onClick={() => settle(true)}>
            Let it go to {m(listing.held.to)}
          </Button>
          <Button onClick={() => settle(false)}>Keep {m(listing.held.from)}</Button>
        </span>
      ) : (
        !broken && 'Give it an own price below, or change the plan or its guards.'
      )}
      {broken && (
        <span className="mt-1 flex gap-2">
          {quote?.answer?.ok && (
            <Button kind="main" onClick={onFollowPlan}>
              Follow the plan: {m(quote.answer.price)}
            </Button>
          )}
          <Button
            onClick={async () => {
              await theShop().setOwnPrice(listing.id, listing.ownPrice, true);
              await say(`${listing.sku} keeps its own price of ${m(listing.ownPrice!)}.`, { undo: true });
            }}
          >
            Keep {m(listing.ownPrice!)} all the same
          </Button>
        </span>
      )}
    </Notice>
  );
}

function Losing({ row: { listing, sum, quote }, currency, onFollowPlan }: Props) {
  if (!sum || sum.profit >= 0 || listing.state !== 'live') return null;
  const planned = quote?.answer?.ok ? quote.answer.price : null;
  const m = (minor: number) => formatMinor(minor, currency);
  return (
    <Notice tone="loss">
      <b className="font-semibold">Each sale loses {m(-sum.profit)}.</b>{' '}
      {listing.ownPrice !== null && planned !== null && (
        <Button onClick={onFollowPlan}>Follow the plan: {m(planned)}</Button>
      )}
    </Notice>
  );
}

/** Edited on the marketplace itself: ours beside theirs. */
function EditedThere({ row, market, currency }: Props) {
  const { listing, quote } = row;
  if (!listing.drift || !market) return null;
  const settle = async (keep: 'theirs' | 'ours') => {
    await theShop().settleDrift([listing.id], keep);
    await say(
      keep === 'theirs'
        ? `${listing.sku} is kept as it was edited on ${market.name}.`
        : `${listing.sku} is put back on ${market.name}.`,
      { undo: keep === 'theirs' },
    );
  };
  return (
    <Notice>
      <b className="font-semibold">It was edited on {market.name} itself.</b>
      <table className="mt-1 w-full text-[13px]">
        <thead className="text-left text-xs text-muted">
          <tr>
            <th scope="col" className="font-normal">
              Field
            </th>
            <th scope="col" className="font-normal">
              Ours
            </th>
            <th scope="col" className="font-normal">
              Theirs
            </th>
          </tr>
        </thead>
        <tbody>
          {driftInWords(listing, { title: titleOf(row), category: quote?.category ?? '' }, currency).map(
            (d) => (
              <tr key={d.field} className="align-top">
                <th scope="row" className="pr-2 text-left font-normal text-muted">
                  {d.field}
                </th>
                <td className="pr-2">{d.ours}</td>
                <td>{plainText(d.theirs)}</td>
              </tr>
            ),
          )}
        </tbody>
      </table>
      <span className="mt-1.5 flex gap-2">
        <Button onClick={() => settle('theirs')}>Keep theirs</Button>
        <Button onClick={() => settle('ours')}>Put ours back</Button>
      </span>
    </Notice>
  );
}

/** Its text was changed here and is not told yet. */
function NotYetSent({ row: { listing, differs }, market }: Props) {
  if (!differs) return null;
  return (
    <Notice>
      Its text or pictures differ from what {market?.name} shows.{' '}
      <Button
        onClick={async () => {
          await theShop().sendChanges([listing.id]);
          await say(`The change of ${listing.sku} is on the way.`);
        }}
      >
        Send the change
      </Button>
    </Notice>
  );
}
