'use client';
import { useState } from 'react';
import { convert, factorOf } from '../core/money';
import { formatCount } from '../core/units';
import { theShop } from '../work/desk/client';
import { backupsOf, MOST_BACKUPS, MOST_IN_PACK, sparesOf } from '../work/listings/link';
import { type FullListing, offersOf } from '../work/quoting/full-listing';
import { type ShopTerms, supplierOf, suppliersOf } from '../work/quoting/worth';
import { Button } from './button';
import { Notice } from './head';
import { ask, say } from './said';

/** A backup that costs more than so many times as much is asked about: prices follow it while the preferred one is out. */
const DEARER = 1.5;

/** How many times as much a unit costs elsewhere; null where it cannot be told. */
function timesAsDear(full: FullListing, shop: ShopTerms, supplier: string, cost: number): number | null {
  const [main] = offersOf(full);
  const [from, to] = [supplierOf(shop, supplier), main && supplierOf(shop, main.source.supplier)];
  const factor = from && to && factorOf(shop.rates, from.currency, to.currency);
  if (!factor || !main?.item) return null;
  return convert(cost, factor) / (main.item.cost * main.source.pack);
}

/** Which supplier item a listing sells, and its backup; both can be changed. */
export function LinkEditor({ full, shop }: { full: FullListing; shop: ShopTerms }) {
  const { listing, variant } = full;
  const [main] = variant.sources;
  const source = main?.role === 'preferred' ? main : null;
  const bought = full.source;
  const stockOf = (s: typeof bought) => {
    const item = [...offersOf(full), ...(full.substitutes ?? [])].find((o) => o.source === s)?.item;
    return item ? `, ${formatCount(item.stock)} in stock` : ', stock not known';
  };
  const others = sparesOf(variant);
  const backups = backupsOf(variant);
  const suppliers = suppliersOf(shop);
  const [supplier, setSupplier] = useState(source?.supplier ?? suppliers[0]?.id ?? '');
  const [sku, setSku] = useState('');
  const [pack, setPack] = useState('1');
  const many = /^\d{1,4}$/.test(pack.trim()) ? Number(pack) : 0;
  const packIsWrong = many < 1 || many > MOST_IN_PACK;
  const ready = sku.trim() !== '' && supplier !== '' && !packIsWrong;
  const nameOf = (id: string) => shop.connections.get(id)?.name ?? id;
  const find = async () => {
    const item = await theShop().look(`${supplier}:${sku.trim()}`, null);
    if (!item || item.gone) {
      await say(`${nameOf(supplier)} has no item ${sku.trim()} now.`, { wrong: true });
      return null;
    }
    return item.item;
  };
  const link = async () => {
    if (!(await find())) return;
    await theShop().link([{ listing: listing.id, supplier, item: sku.trim(), pack: many }]);
    setSku('');
    setPack('1');
    await say(
      `${listing.sku} is linked to ${sku.trim()}${many > 1 ? `, ${many} of them for one` : ''}. Its price stays; quantity and cost follow ${nameOf(supplier)}.`,
      { undo: true },
    );
  };
  const spare = async (role: 'backup' | 'substitute') => {
    if (supplier === source?.supplier && sku.trim() === source.item)
      return say('That is its main source already.', { wrong: true });
    const found = await find();
    if (!found) return;
    const name = found.sku;
    const set = async () => {
      await theShop().setBackup(variant.id, { supplier, item: name, pack: many });
      setSku('');
      setPack('1');
      await say(`${name} of ${nameOf(supplier)} is its backup.`, { undo: true });
    };
    if (role === 'substitute') {
      await theShop().setBackup(variant.id, { supplier, item: name, pack: many, role });
      setSku('');
      setPack('1');
      return say(`${name} of ${nameOf(supplier)} may be bought in its place, by your word in an order.`, {
        undo: true,
      });
    }
    const dearer = timesAsDear(full, shop, supplier, found.cost * many);
    if (dearer === null || dearer <= DEARER) return set();
    ask(
      `${name} costs ${dearer.toFixed(1)} times as much. While ${nameOf(source?.supplier ?? '')} has none, the price follows it. Make it the backup?`,
      'Make it the backup',
      set,
    );
  };
  const unlink = async () => {
    await theShop().link([{ listing: listing.id, supplier: '', item: '' }]);
    await say(`${listing.sku} is no longer linked.`, { undo: true });
  };
  return (
    <div className="text-[13px]">
      {source ? (
        <p>
          <span className="font-mono">{source.item}</span> of {nameOf(source.supplier)}
          {source.pack > 1 && `, ${source.pack} of them make one`}
          {stockOf(source)}{' '}
          <Button kind="text" className="py-0" onClick={unlink}>
            Unlink
          </Button>
        </p>
      ) : (
        <Notice>
          <b className="font-semibold">No supplier item is linked.</b> It goes on selling as it is, but its
          orders are held: nothing can be forwarded, and neither cost nor stock is known.
        </Notice>
      )}
      {others.map((other) => (
        <p key={`${other.supplier} ${other.item}`}>
          {other.role === 'backup' ? 'Backup' : 'Substitute'}: <span className="font-mono">{other.item}</span>{' '}
          of {nameOf(other.supplier)}
          {other.pack > 1 && `, ${other.pack} of them make one`}
          {stockOf(other)}{' '}
          <Button
            kind="text"
            className="py-0"
            aria-label={`Remove the ${other.role} ${other.item} of ${nameOf(other.supplier)}`}
            onClick={() => theShop().setBackup(variant.id, other, false)}
          >
            Remove
          </Button>
        </p>
      ))}
      {bought && source && bought !== source && (
        <p className="text-lamp">
          {nameOf(source.supplier)} has none: cost and price are {nameOf(bought.supplier)}’s, and orders go
          there.
        </p>
      )}
      {backups.length > 0 && bought === source && (
        <p className="text-muted">
          All count in the stock shown; an order takes from a backup what {nameOf(source!.supplier)} lacks, or
          by your sourcing rule.
        </p>
      )}
      <div className="mt-1.5 flex flex-wrap items-end gap-2">
        <label className="text-xs text-muted">
          Supplier
          <select
            value={supplier}
            onChange={(e) => setSupplier(e.target.value)}
            className="mt-0.5 block max-w-36 rounded-sm border border-edge bg-surface px-1 py-1 text-[13px] text-ink"
          >
            {suppliers.map((s) => (
              <option key={s.id} value={s.id}>
                {s.name}
              </option>
            ))}
          </select>
        </label>
        <label className="text-xs text-muted">
          SKU there
          <input
            value={sku}
            onChange={(e) => setSku(e.target.value)}
            className="mt-0.5 block w-28 rounded-sm border border-edge bg-surface px-1.5 py-1 font-mono text-[13px] text-ink"
          />
        </label>
        <label className="text-xs text-muted">
          Make one
          <input
            inputMode="numeric"
            value={pack}
            aria-invalid={packIsWrong}
            title={`How many of the supplier’s units one of yours is made of, 1 to ${formatCount(MOST_IN_PACK)}`}
            onChange={(e) => setPack(e.target.value)}
            className={`mt-0.5 block w-14 rounded-sm border bg-surface px-1.5 py-1 text-right text-[13px] text-ink ${packIsWrong ? 'border-loss' : 'border-edge'}`}
          />
        </label>
        <Button disabled={!ready} onClick={link}>
          {source ? 'Link to this' : 'Link'}
        </Button>
        {source && (
          <>
            <Button disabled={!ready || others.length >= MOST_BACKUPS} onClick={() => spare('backup')}>
              As backup
            </Button>
            <Button
              kind="text"
              title="Other goods that you may send in its place: never bought by themselves"
              disabled={!ready || others.length >= MOST_BACKUPS}
              onClick={() => spare('substitute')}
            >
              As substitute
            </Button>
          </>
        )}
      </div>
      {packIsWrong && (
        <p role="alert" className="mt-1 text-xs text-loss">
          “{pack.trim()}” cannot make one: write how many, from 1 to {formatCount(MOST_IN_PACK)}.
        </p>
      )}
    </div>
  );
}
