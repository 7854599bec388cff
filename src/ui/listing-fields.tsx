'use client';
import dynamic from 'next/dynamic';
import { useId, useState } from 'react';
import { attributesIn } from '../core/checks';
import { plainText } from '../core/copy';
import { theShop } from '../work/desk/client';
import { picturesOf, productTitle, suppliersText } from '../work/quoting/copy';
import type { FullListing } from '../work/quoting/full-listing';
import { attributeFieldId, type FieldId, fieldOf, type Origin } from '../work/quoting/listing-cells';
import { categoryOf } from '../work/quoting/pricing-terms';
import { marketOf, marketsOf, type ShopTerms } from '../work/quoting/worth';
import { Button } from './button';
import { PictureOrder } from './picture-order';
import { say } from './said';
import { TextField } from './text-field';

/** The editor comes with the first description that is looked at. */
const RichText = dynamic(() => import('./rich-text').then((m) => m.RichText), { ssr: false });

/** Texts of a listing in a docket, in order; each says where it comes from. */
const TEXTS: readonly FieldId[] = [
  'title',
  'template',
  'category',
  'tags',
  'brand',
  'variants',
  'barcode',
  'weight',
  'size',
  'plan',
  'market',
  'kept back',
];

/**
 * Every field of one listing, on the Bench or on sale: its value, where that comes from, and the way back there. What is on
 * sale is sent as the difference it is.
 */
export function ListingFields({ full, shop }: { full: FullListing; shop: ShopTerms }) {
  const { listing, product } = full;
  const site = marketOf(shop, listing.marketplace)?.site;
  const market = marketOf(shop, listing.marketplace);
  const attributes = market ? attributesIn(market.site.attributes, categoryOf(full, market, shop)) : [];
  const [refused, setRefused] = useState<Partial<Record<FieldId, string>>>({});
  const id = useId();
  const save = async (field: FieldId, text: string) => {
    const done = await theShop().applyCells(
      [{ listing: listing.id, field, text }],
      fieldOf(field, shop).name,
    );
    const reason = done.refusedCells[0]?.reason;
    setRefused((before) => ({ ...before, [field]: reason }));
    if (done.sent)
      await say(`The change of ${listing.sku} is on the way to ${market?.name}.`, { undo: true });
    else if (done.lacking)
      await say(`${listing.sku} lacks something now; ${market?.name} goes on with what it was told.`, {
        undo: true,
      });
    return reason === undefined;
  };
  const several = marketsOf(shop).length > 1;
  const everywhere = async (field: 'title' | 'description') => {
    await theShop().shareText(listing.id, field);
    await say(`${fieldOf(field, shop).name} is used on all marketplaces.`, { undo: true });
  };
  const fixed = TEXTS.filter((field) => {
    if (field === 'tags') return site?.tags;
    if (field === 'template') return shop.templates.size > 0;
    if (field === 'variants') return product.group !== null;
    return field !== 'plan' || shop.plans.length > 1;
  });
  const shown = [...fixed, ...attributes.map((a) => attributeFieldId(a.id))];
  return (
    <>
      <PictureOrder
        key={product.id}
        supplier={shop.connections.get(product.supplier)?.service ?? ''}
        pictures={picturesOf(product)}
        all={[...new Set([...suppliersText(product).pictures, ...(product.pictures ?? [])])]}
        title={productTitle(product)}
        alts={product.alts ?? {}}
        rules={site?.pictures ?? null}
        onChange={(pictures) => save('pictures', pictures.join('\n'))}
        onAdd={(pictures, instead) => theShop().addPictures(listing.id, pictures, instead)}
        onDescribe={(name, text) => theShop().describePicture(product.id, name, text)}
      />
      {shown.map((field) => {
        const { name, read, origin, supplier, choices: choicesFor } = fieldOf(field, shop);
        const value = read(full, shop);
        const from = origin(full, shop);
        const choices = choicesFor?.(full, shop);
        const limit =
          field === 'tags' && site?.tags
            ? `: at most ${site.tags.most} of ${site.tags.longest} characters, separated by commas`
            : '';
        const label = `${name}${limit}`;
        return (
          <div key={`${listing.id} ${field}`}>
            {choices ? (
              <>
                <label htmlFor={`${id}-${field}`} className="mt-1 block text-xs text-muted">
                  {label}
                </label>
                <select
                  id={`${id}-${field}`}
                  value={value}
                  onChange={(e) => save(field, e.target.value)}
                  className="w-full rounded-sm border border-edge bg-surface px-1.5 py-1"
                >
                  {!choices.includes(value) && <option value="">{value || 'None'}</option>}
                  {value && field === 'template' && <option value="">None</option>}
                  {choices.map((choice) => (
                    <option key={choice} value={choice}>
                      {choice}
                    </option>
                  ))}
                </select>
              </>
            ) : (
              <TextField
                id={`${id}-${field}`}
                label={label}
                value={value}
                keep={`${listing.id} ${field}`}
                limit={field === 'title' ? (site?.titleLimit ?? null) : null}
                onCommit={(text) => save(field, text)}
              />
            )}
            {(field === 'title' || field === 'tags') && (
              <Propose listing={listing.id} field={field} onTake={(text) => save(field, text)} />
            )}
            <Source
              from={from}
              theirs={product.theirs && (supplier?.(full) ?? null)}
              onBack={() => save(field, '')}
              onEverywhere={field === 'title' && several ? () => everywhere('title') : undefined}
            />
            {refused[field] && (
              <p role="alert" className="text-xs text-loss">
                {refused[field]}
              </p>
            )}
          </div>
        );
      })}
      <p className="mt-2 text-xs text-muted">Description</p>
      <RichText
        key={listing.id}
        label="Description"
        html={fieldOf('description', shop).read(full, shop)}
        onCommit={(html) => save('description', html)}
      />
      <Source
        from={fieldOf('description', shop).origin(full, shop)}
        theirs={product.theirs && suppliersText(product).description}
        onBack={() => save('description', '')}
        onEverywhere={several ? () => everywhere('description') : undefined}
      />
    </>
  );
}

/** Proposes a text with its reasons; taken, or left. */
function Propose({
  listing,
  field,
  onTake,
}: {
  listing: string;
  field: 'title' | 'tags';
  onTake: (text: string) => void;
}) {
  const [made, setMade] = useState<{ readonly text: string; readonly why: readonly string[] } | null>(null);
  if (!made)
    return (
      <Button
        kind="text"
        className="-my-1 -ml-1.5 text-xs"
        onClick={async () =>
          setMade(
            (await theShop().proposeText(listing, field)) ?? { text: '', why: ['It is as good as it gets.'] },
          )
        }
      >
        Propose
      </Button>
    );
  return (
    <div className="mt-1 rounded-sm border border-rule bg-raised px-2 py-1 text-[13px]">
      {made.text && <b className="font-semibold">{made.text}</b>}
      <ul className="list-disc pl-4 text-xs text-muted">
        {made.why.map((reason) => (
          <li key={reason}>{reason}</li>
        ))}
      </ul>
      {made.text && (
        <Button
          kind="text"
          className="-ml-1.5"
          onClick={() => {
            onTake(made.text);
            setMade(null);
          }}
        >
          Use it
        </Button>
      )}
      <Button kind="text" onClick={() => setMade(null)}>
        Leave it
      </Button>
    </div>
  );
}

const WORDS: Record<Exclude<Origin, 'nothing'>, string> = {
  'typed for this marketplace': 'Typed for this marketplace.',
  'typed for all marketplaces': 'Typed for all marketplaces.',
  template: 'From the copy template.',
  supplier: 'From the supplier.',
  table: 'By the table of categories.',
  guessed: 'Guessed from the supplier’s category.',
  plan: 'By the first plan that fits.',
  preset: 'From a preset.',
};

/** Where a value comes from, and the way back to where it came from before it was typed. */
function Source({
  from,
  theirs,
  onBack,
  onEverywhere,
}: {
  from: Origin;
  /** What the supplier says now, where it changed since it was taken. */
  theirs: string | null;
  onBack: () => void;
  /** Makes it the product's own, where the product is meant for several marketplaces. */
  onEverywhere?: (() => void) | undefined;
}) {
  if (from === 'nothing') return null;
  const typed = from.startsWith('typed');
  return (
    <p className="text-xs text-muted">
      {WORDS[from]}
      {typed && theirs && (
        <span className="text-lamp"> The supplier says now: “{plainText(theirs).slice(0, 160)}”.</span>
      )}{' '}
      {typed && (
        <Button kind="text" className="-my-1 text-xs" onClick={onBack}>
          Go back
        </Button>
      )}
      {from === 'typed for this marketplace' && onEverywhere && (
        <Button kind="text" className="-my-1 text-xs" onClick={onEverywhere}>
          Use on all marketplaces
        </Button>
      )}
    </p>
  );
}
