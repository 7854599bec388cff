'use client';
import { useEffect } from 'react';
import { optionsInWords } from '../../core/catalogue';
import type { Candidate } from '../../core/linking';
import { formatMinor } from '../../core/money';
import { Button } from '../../ui/button';
import { Docket } from '../../ui/docket';
import { Notice, Section } from '../../ui/head';
import { LinkEditor } from '../../ui/link-editor';
import { say } from '../../ui/said';
import { theShop } from '../../work/desk/client';
import { backupsOf } from '../../work/listings/link';
import type { ShopTerms } from '../../work/quoting/worth';
import type { BroughtRow } from './rows';

interface Props {
  readonly row: BroughtRow;
  readonly shop: ShopTerms;
  readonly currency: string;
  readonly onLink: (candidate: Candidate) => void;
  readonly onNext: () => void;
  readonly onClose: () => void;
}

/**
 * One listing beside the items it may sell, each with its score and what speaks for and against it. A digit
 * links, S skips.
 */
export function LinkDocket({ row, shop, currency, onLink, onNext, onClose }: Props) {
  const { listing, product, variant, source, proposal } = row;
  const backups = backupsOf(variant);
  const candidates = proposal?.candidates ?? [];
  const linked = source !== null;
  useEffect(() => {
    const onKey = (e: KeyboardEvent) => {
      const target = e.target as HTMLElement;
      if (e.ctrlKey || e.metaKey || e.altKey || /^(INPUT|TEXTAREA|SELECT)$/.test(target.tagName)) return;
      const nth = /^[1-6]$/.test(e.key) ? candidates[Number(e.key) - 1] : undefined;
      if (nth && !linked) onLink(nth);
      else if (e.key === 's') onNext();
      else return;
      e.preventDefault();
    };
    window.addEventListener('keydown', onKey);
    return () => window.removeEventListener('keydown', onKey);
  }, [candidates, linked, onLink, onNext]);
  const backUp = async (c: Candidate) => {
    await theShop().setBackup(variant.id, { supplier: c.supplier, item: c.sku });
    await say(
      `${c.sku} of ${shop.connections.get(c.supplier)?.name ?? c.supplier} is the backup of ${listing.sku}.`,
      { undo: true },
    );
  };
  const facts = (title: string, brand: string, options: string, amount: string, gtin: string | null) => (
    <>
      <span className="block font-semibold">{title}</span>
      <span className="block text-[13px] text-muted">
        {[brand, options, amount, gtin].filter(Boolean).join(' · ')}
      </span>
    </>
  );
  return (
    <Docket label="Link a listing" onClose={onClose}>
      <h2 className="text-xs font-semibold text-muted">In the shop: {listing.sku}</h2>
      {facts(
        product.title ?? '',
        product.taken.brand,
        optionsInWords(variant.options),
        listing.published ? `sells at ${formatMinor(listing.published.price, currency)}` : '',
        variant.gtin,
      )}
      {linked && (
        <Section title="Linked to">
          <LinkEditor full={row} shop={shop} />
        </Section>
      )}
      {!linked && candidates.length === 0 && (
        <Notice>
          No supplier offers a match. It stays in the shop; its orders are held until it is linked.
        </Notice>
      )}
      {candidates.length > 0 && (
        <Section
          title={linked ? 'What else it may sell' : 'It may sell'}
          aside={
            linked ? undefined : <span className="font-normal">1 to {candidates.length} links, S skips</span>
          }
        >
          <ol className="space-y-2">
            {candidates
              .filter((c) => !(c.supplier === source?.supplier && c.sku === source.item))
              .map((c, i) => (
                <li key={`${c.supplier}:${c.sku}`} className="rounded-sm border border-rule p-2">
                  <div className="flex items-start gap-2">
                    <span
                      aria-hidden
                      className="grid size-5 shrink-0 place-items-center rounded-sm border border-edge font-mono text-xs"
                    >
                      {i + 1}
                    </span>
                    <div className="min-w-0 grow">
                      {facts(
                        c.title,
                        shop.connections.get(c.supplier)?.name ?? '',
                        optionsInWords(c.options),
                        `costs ${formatMinor(c.cost, c.currency)}`,
                        null,
                      )}
                      <span className="font-mono text-xs text-muted">{c.sku}</span>
                    </div>
                    <span className="text-right text-[13px] whitespace-nowrap">
                      <b className="font-semibold">{c.score}</b> of 100
                    </span>
                  </div>
                  <ul className="mt-1 text-xs">
                    {c.reasons.map((r) => (
                      <li key={r.says} className={r.good ? '' : 'text-lamp'}>
                        <span aria-hidden>{r.good ? '+' : '−'}</span>{' '}
                        <span className="sr-only">{r.good ? 'for it:' : 'against it:'}</span> {r.says}
                      </li>
                    ))}
                  </ul>
                  <div className="mt-1.5">
                    {linked && backups.some((b) => b.supplier === c.supplier && b.item === c.sku) ? (
                      <span className="text-[13px] text-muted">It is the backup.</span>
                    ) : linked ? (
                      <Button aria-label={`${c.sku} as backup`} onClick={() => backUp(c)}>
                        As backup
                      </Button>
                    ) : (
                      <Button
                        kind={i === 0 ? 'main' : 'quiet'}
                        aria-label={`Link to ${c.sku}`}
                        onClick={() => onLink(c)}
                      >
                        Link to this
                      </Button>
                    )}
                  </div>
                </li>
              ))}
          </ol>
        </Section>
      )}
      {!linked && (
        <Section title="Or name the item">
          <LinkEditor full={row} shop={shop} />
          <div className="mt-3">
            <Button onClick={onNext}>Skip</Button>
          </div>
        </Section>
      )}
    </Docket>
  );
}
