'use client';
import { wordsIn } from '../../core/slip';
import { useAnswer } from '../../ui/answer';
import { Section } from '../../ui/head';
import { theShop } from '../../work/desk/client';
import type { Order } from '../../work/model';
import { PackingSlips } from './packing-slips';

/** The packing slip of an order as it will be printed. */
export function SlipSection({ order, version }: { order: Order; version: string }) {
  const slips = useAnswer(() => theShop().slipsOf([order.id]), [order.id, version]);
  const slip = slips?.[0];
  if (!slip) return null;
  const words = wordsIn(slip.language);
  const { address: a } = slip;
  return (
    <Section title="Packing slip">
      <details className="text-[13.5px]">
        <summary className="text-muted">
          {words.title} {slip.number}, in the language of the buyer
        </summary>
        <div lang={slip.language} className="my-1.5 border border-edge bg-white p-3 text-black">
          <p className="text-lg font-bold">{slip.shop || words.title}</p>
          <p className="border-b border-black pb-1">
            {words.order} {slip.number}, {slip.day}
          </p>
          <p className="mt-1 whitespace-pre-line">
            {[a.name, a.line1, a.line2, `${a.postcode} ${a.town}`.trim(), a.country]
              .filter(Boolean)
              .join('\n')}
          </p>
          <ul className="my-1 border-y border-black py-1">
            {slip.lines.map((l, k) => (
              <li key={k}>
                {l.units} × {l.title} {l.words && <i>“{l.words}”</i>}
              </li>
            ))}
          </ul>
          {slip.gift && <p className="my-1 whitespace-pre-wrap italic">{slip.gift}</p>}
          <p className="whitespace-pre-wrap">{slip.message}</p>
          {slip.contact && (
            <p className="text-xs">
              {words.contact} {slip.contact}
            </p>
          )}
        </div>
      </details>
      <PackingSlips meant={{ keys: [order.id] }} count={1} words="Packing slip as PDF" />
    </Section>
  );
}
