'use client';
import { countOf } from '../../core/units';
import { Button } from '../../ui/button';
import { say } from '../../ui/said';
import { theShop } from '../../work/desk/client';
import type { ListingInFull } from '../../work/memory/listing-list';
import type { MarketConnection } from '../../work/model';
import { follows } from '../../work/quoting/offer';

/** Ends a listing or brings it back, and lists its product on other marketplaces. */
export function WhereOnSale({
  row: { listing, product, on },
  market,
  markets,
}: {
  row: ListingInFull;
  market: MarketConnection;
  markets: readonly MarketConnection[];
}) {
  const what = { keys: [listing.id] };
  const end = async () => {
    await theShop().endMeant(what);
    await say(`${listing.sku} is ended on ${market.name}.`, { undo: true });
  };
  const bringBack = async () => {
    await theShop().bringBackMeant(what);
    await say(`${listing.sku} is put on sale again.`, { undo: true });
  };
  const listOn = async ({ id, name }: MarketConnection) => {
    const n = await theShop().listOn([product.id], id);
    await say(`${countOf(n, 'listing')} for ${name} on the Bench.`, { undo: n > 0 });
  };
  return (
    <div className="mt-3 flex flex-wrap gap-2">
      {listing.state === 'ended' ? (
        <Button onClick={bringBack}>Bring back</Button>
      ) : (
        follows(listing) && <Button onClick={end}>End</Button>
      )}
      {markets
        .filter((m) => !on.includes(m.id))
        .map((m) => (
          <Button key={m.id} onClick={() => listOn(m)}>
            List on {m.name} too
          </Button>
        ))}
    </div>
  );
}
