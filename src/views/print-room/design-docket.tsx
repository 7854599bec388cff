'use client';
import { proxy } from 'comlink';
import { useState } from 'react';
import { findingInWords } from '../../core/print';
import { countOf } from '../../core/units';
import { useAnswer } from '../../ui/answer';
import { Button } from '../../ui/button';
import { Docket } from '../../ui/docket';
import { Notice, Section } from '../../ui/head';
import { say } from '../../ui/said';
import { TextField } from '../../ui/text-field';
import { theShop } from '../../work/desk/client';
import type { DesignRow } from '../../work/model';
import type { DesignEdit } from '../../work/print/designs';
import { AssetPicture, CHECKED, useAsset } from './asset-picture';
import { notesInWords, sizeInWords } from './words';

const MOST_KEYWORDS = 40;

/** A design in full: its picture, what is known of it, its words. */
export function DesignDocket({ id, stamp, onClose }: { id: string; stamp: number; onClose: () => void }) {
  const design = useAnswer(() => theShop().design(id), [id, stamp]);
  const picture = useAsset(design?.large ?? null);
  if (!design) return null;
  const edit = async (set: DesignEdit) => {
    await theShop().editDesigns([id], set);
    await say('Saved.', { undo: true });
  };
  const { look } = design;
  const margins = look.bounds[2] - look.bounds[0] < 0.97 || look.bounds[3] - look.bounds[1] < 0.97;
  const facts: [string, string][] = [
    ['Size', sizeInWords(design)],
    [
      'File',
      `${design.type.replace('image/', '').replace('+xml', '').toUpperCase()}, ${Math.max(1, Math.round(design.bytes / 1000)).toLocaleString('en-GB')} kB`,
    ],
    ['Resolution in the file', design.dpi ? `${Math.round(design.dpi)} DPI` : 'not said'],
    [
      'Transparency',
      look.transparent
        ? look.half > 0.05
          ? `yes, ${Math.round(look.half * 100)} % half transparent`
          : 'yes'
        : 'none',
    ],
    [
      'Empty margins',
      margins
        ? `yes: what is drawn takes ${Math.round((look.bounds[2] - look.bounds[0]) * 100)} × ${Math.round((look.bounds[3] - look.bounds[1]) * 100)} %`
        : 'none',
    ],
  ];
  return (
    <Docket label={design.name} onClose={onClose}>
      <h2 className="text-base font-semibold">{design.name}</h2>
      {picture ? (
        <img
          src={picture}
          alt={design.name}
          className={`mt-2 max-h-72 w-full rounded-sm border border-rule object-contain ${CHECKED}`}
        />
      ) : (
        <div className="mt-2 h-72 rounded-sm border border-rule bg-raised" />
      )}
      {notesInWords(design).map((says) => (
        <Notice key={says}>{says}</Notice>
      ))}
      <Section title="What is known of it">
        <dl className="text-[13.5px]">
          {facts.map(([name, value]) => (
            <div key={name} className="flex gap-3 border-b border-rule-soft py-1">
              <dt className="grow text-muted">{name}</dt>
              <dd>{value}</dd>
            </div>
          ))}
          <div className="flex items-center gap-3 py-1">
            <dt className="grow text-muted">Main colours</dt>
            <dd className="flex gap-1">
              {look.palette.slice(0, 6).map(({ r, g, b, share }) => (
                <span
                  key={`${r} ${g} ${b}`}
                  role="img"
                  aria-label={`rgb ${r} ${g} ${b}, ${Math.round(share * 100)} %`}
                  title={`rgb ${r} ${g} ${b}, ${Math.round(share * 100)} %`}
                  className="size-4 rounded-sm border border-rule"
                  style={{ background: `rgb(${r} ${g} ${b})` }}
                />
              ))}
            </dd>
          </div>
        </dl>
      </Section>
      <Swap design={design} stamp={stamp} />
      <Section title="Words">
        <TextField
          id="design-name"
          label="Name"
          value={design.name}
          onCommit={(text) => (text.trim() ? edit({ name: text.trim().slice(0, 120) }) : false)}
        />
        <TextField
          id="design-keywords"
          label="Keywords, separated by commas"
          value={design.keywords.join(', ')}
          onCommit={(text) =>
            edit({
              keywords: [
                ...new Set(
                  text
                    .split(/[,;\n]/)
                    .map((k) => k.trim().toLowerCase())
                    .filter(Boolean),
                ),
              ].slice(0, MOST_KEYWORDS),
            })
          }
        />
        <TextField
          id="design-set"
          label="Set"
          value={design.set}
          onCommit={(text) => edit({ set: text.trim().slice(0, 60) })}
        />
        <TextField
          id="design-rights"
          label="Source and rights"
          area
          value={design.rights}
          onCommit={(text) => edit({ rights: text.trim().slice(0, 1_000) })}
        />
      </Section>
    </Docket>
  );
}

/** Designs that are offered at once. */
const OFFERED = 6;

/** Puts another design in the place of one, with what that does before it is done. */
function Swap({ design, stamp }: { design: DesignRow; stamp: number }) {
  const [open, setOpen] = useState(false);
  const [query, setQuery] = useState('');
  const [to, setTo] = useState<DesignRow | null>(null);
  const [at, setAt] = useState<{ done: number; total: number } | null>(null);
  const found = useAnswer(
    () =>
      open
        ? theShop().designs({
            query,
            set: null,
            sort: 'name',
            descending: false,
            offset: 0,
            limit: OFFERED + 1,
          })
        : undefined,
    [open, query, stamp],
    120,
  );
  const planned = useAnswer(() => (to ? theShop().planSwap(design.id, to.id) : undefined), [to?.id, stamp]);
  if (!open)
    return (
      <div className="mt-3">
        <Button onClick={() => setOpen(true)}>Put another design in its place</Button>
      </div>
    );
  const run = async () => {
    if (!to) return;
    setAt({ done: 0, total: 0 });
    try {
      const done = await theShop().swapDesign(
        design.id,
        to.id,
        proxy((n: number, total: number) => setAt({ done: n, total })),
      );
      await say(
        done?.products
          ? `${to.name} is printed on ${countOf(done.products, 'product')}${done.told ? `, ${countOf(done.told, 'listing')} told to the marketplaces` : ''}.`
          : 'No product was changed.',
        { undo: true },
      );
      setOpen(false);
      setTo(null);
    } finally {
      setAt(null);
    }
  };
  return (
    <Section title="Put another design in its place">
      <label className="block text-xs text-muted">
        Which one
        <input
          value={query}
          onChange={(e) => {
            setQuery(e.target.value);
            setTo(null);
          }}
          className="mt-0.5 block w-full rounded-sm border border-edge bg-surface px-1.5 py-1 text-sm text-ink"
        />
      </label>
      <ul className="mt-1 grid grid-cols-2 gap-1">
        {found?.rows
          .filter((d) => d.id !== design.id)
          .slice(0, OFFERED)
          .map((d) => (
            <li key={d.id}>
              <button
                type="button"
                aria-pressed={to?.id === d.id}
                onClick={() => setTo(d)}
                className={`flex w-full items-center gap-2 rounded-sm border p-1 text-left text-[13px] ${to?.id === d.id ? 'border-river bg-river-soft' : 'border-rule hover:border-edge'}`}
              >
                <AssetPicture id={d.small} alt="" size={28} />
                <span className="truncate">{d.name}</span>
              </button>
            </li>
          ))}
      </ul>
      {to && planned && (
        <>
          <p className="mt-2 text-[13.5px]">
            {countOf(planned.products, 'product')}, {countOf(planned.pictures, 'picture')} made anew,{' '}
            {countOf(planned.sheets, 'sheet')}; {countOf(planned.live, 'listing')} on sale. Placements stay,
            and orders that came in before get what was shown to them.
          </p>
          {planned.findings.map(({ blank, finding }) => (
            <Notice key={`${blank} ${JSON.stringify(finding)}`}>
              {blank}: {findingInWords(finding)}
            </Notice>
          ))}
          {at ? (
            <p role="status" className="mt-2 flex items-center gap-3 text-[13.5px]">
              {at.done} of {at.total || planned.products} products pictured
              <Button onClick={() => void theShop().stopPrinting()}>Stop</Button>
            </p>
          ) : (
            <Button kind="main" className="mt-2" onClick={() => void run()}>
              Swap in {countOf(planned.products, 'product')}
            </Button>
          )}
        </>
      )}
    </Section>
  );
}
