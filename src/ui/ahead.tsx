'use client';
import { type ReactNode, useId, useState } from 'react';
import { formatMinor, formatShare } from '../core/money';
import { countOf, formatCount } from '../core/units';
import { theShop } from '../work/desk/client';
import type { TermsDraft } from '../work/pricing/draft';
import type { WhatIf } from '../work/pricing/prospects';
import { useAnswer } from './answer';

/** Milliseconds of rest after which what is typed is looked ahead for. */
const REST = 150;
/** Listings shown one by one. */
const SHOWN = 3;

const share = (tenths: number | null) => (tenths === null ? 'none' : formatShare(tenths, 1000));

/** What would happen to live listings, in a sentence. */
export const aheadInWords = (ahead: WhatIf): string =>
  `Of ${countOf(ahead.listings, 'live listing')} ${formatCount(ahead.rise)} would rise, ${formatCount(ahead.fall)} fall, ${formatCount(ahead.stay)} stay${ahead.held ? `, ${formatCount(ahead.held)} be held (${ahead.holds.map(([why]) => why).join('; ')})` : ''}${ahead.losing ? `, ${formatCount(ahead.losing)} newly sell at a loss` : ''}${ahead.shown ? `, ${formatCount(ahead.shown)} show another quantity` : ''}. Median margin ${share(ahead.marginFrom)} → ${share(ahead.marginTo)}.`;

/** What saving would do, and whether it may be saved. */
export interface Ahead {
  /** The effects of the change and the questions it raises; stands above the button. */
  readonly view: ReactNode;
  /** Nothing is saved before what it does is known, and what is asked is answered. */
  readonly ready: boolean;
  /** What the button says. */
  readonly saves: string;
  /** How the button stands, and why. */
  readonly save: { readonly disabled: boolean; readonly title?: string };
}

/**
 * Looks ahead at what a change of terms would do to prices, while it is typed.
 * @param draft null while there is nothing to save
 * @param question something that is asked besides, such as about a figure that is far from the one before; null for nothing
 */
export function useAhead(draft: TermsDraft | null, question: string | null = null, verb = 'Save'): Ahead {
  const id = useId();
  const key = draft && JSON.stringify([draft, question], (_, v) => (v instanceof Map ? [...v] : v));
  const answer = useAnswer(
    async () => draft && { key, ahead: await theShop().whatIfTerms(draft) },
    [key],
    REST,
  );
  const [agreed, setAgreed] = useState<string | null>(null);
  const ahead = answer && answer.key === key ? answer.ahead : null;
  if (!draft || !key) return { view: null, ready: false, saves: verb, save: { disabled: true } };
  if (!ahead)
    return {
      view: (
        <p role="status" className="text-[13px] text-muted">
          Working out what that does …
        </p>
      ),
      ready: false,
      saves: verb,
      save: { disabled: true, title: 'Working out what that does: one moment.' },
    };
  const moving = ahead.rise + ahead.fall;
  const asks = [
    question,
    ahead.leaps > 0 ? `${countOf(ahead.leaps, 'price')} would at least double or fall to half.` : null,
    ahead.losing > 0 ? `${countOf(ahead.losing, 'listing')} would newly sell at a loss.` : null,
  ].filter((one) => one !== null);
  const ready = asks.length === 0 || agreed === key;
  return {
    view: (
      <>
        <p role="status" className="text-[13px] text-muted">
          {aheadInWords(ahead)}
        </p>
        <Examples ahead={ahead} />
        {asks.length > 0 && (
          <div className="mt-1 border-l-[3px] border-lamp bg-lamp-soft px-2 py-1 text-[13px]">
            <ul>
              {asks.map((one) => (
                <li key={one}>{one}</li>
              ))}
            </ul>
            <label htmlFor={id} className="flex items-center gap-1.5">
              <input
                id={id}
                type="checkbox"
                checked={agreed === key}
                onChange={(e) => setAgreed(e.target.checked ? key : null)}
                className="accent-river"
              />
              It is meant so
            </label>
          </div>
        )}
      </>
    ),
    ready,
    save: ready ? { disabled: false } : { disabled: true, title: 'Say above that it is meant so.' },
    saves: moving > 0 ? `${verb} and change ${countOf(moving, 'price')}` : verb,
  };
}

/** The listings that it moves most, or that would be held. */
function Examples({ ahead }: { ahead: WhatIf }) {
  const first = ahead.prospects
    .filter((p) => p.to !== p.from && !(p.to === null && p.wasHeld))
    .slice(0, SHOWN);
  if (!first.length) return null;
  return (
    <ul className="mt-0.5 text-xs text-muted">
      {first.map((p) => (
        <li key={p.id}>
          {p.title} on {p.market}: {formatMinor(p.from, p.currency)} →{' '}
          {p.to === null ? p.says : formatMinor(p.to, p.currency)}
          {p.profitTo !== null && `, earns ${formatMinor(p.profitTo, p.currency, true)}`}
        </li>
      ))}
    </ul>
  );
}
