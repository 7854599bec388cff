'use client';
import { useId, useState } from 'react';
import type { Buyer } from '../../core/orders';
import { Button } from '../../ui/button';
import { Section } from '../../ui/head';
import { TextField } from '../../ui/text-field';
import { theShop } from '../../work/desk/client';
import type { Order } from '../../work/model';
import type { Act } from './order-acts';

/** What the buyer wrote to the seller. */
export function BuyerNote({ order, buyer }: { order: Order; buyer: Buyer }) {
  const said = order.buyerNote === undefined ? '' : (buyer.texts[order.buyerNote] ?? '');
  if (!said) return null;
  return (
    <blockquote className="my-2 border-l-[3px] border-lamp pl-2 text-[13.5px] whitespace-pre-wrap">
      <span className="block text-xs text-muted">The buyer wrote</span>
      {said}
    </blockquote>
  );
}

/** The seller's own note and labels. */
export function OwnNotes({ order, buyer, act }: { order: Order; buyer: Buyer; act: Act }) {
  const id = useId();
  const [label, setLabel] = useState('');
  const note = order.note === undefined ? '' : (buyer.texts[order.note] ?? '');
  const labels = order.labels ?? [];
  const put = (next: readonly string[]) =>
    act(theShop().noteOrder(order.id, { labels: next }), 'Labels changed.', true);
  return (
    <Section title="Notes and labels">
      <TextField
        id={`${id}-note`}
        label="Your note"
        area
        value={note}
        limit={2000}
        keep={`note:${order.id}`}
        onCommit={(text) => act(theShop().noteOrder(order.id, { note: text }), 'Note kept.', true)}
      />
      <div className="mt-1.5 flex flex-wrap items-center gap-1.5 text-[13px]">
        {labels.map((one) => (
          <span key={one} className="rounded-sm border border-edge px-1.5">
            {one}
            <button
              type="button"
              aria-label={`Remove the label ${one}`}
              className="ml-1 px-1 text-muted hover:text-ink"
              onClick={() => put(labels.filter((l) => l !== one))}
            >
              ×
            </button>
          </span>
        ))}
        <form
          className="flex gap-1.5"
          onSubmit={(e) => {
            e.preventDefault();
            if (!label.trim()) return;
            put([...labels, label.trim()]);
            setLabel('');
          }}
        >
          <input
            aria-label="New label"
            placeholder="label"
            value={label}
            maxLength={40}
            onChange={(e) => setLabel(e.target.value)}
            className="w-28 rounded-sm border border-edge bg-surface px-1.5 py-0.5"
          />
          <Button type="submit" disabled={!label.trim()}>
            Add label
          </Button>
        </form>
      </div>
    </Section>
  );
}
