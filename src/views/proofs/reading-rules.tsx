'use client';
import { useId, useState } from 'react';
import { Button } from '../../ui/button';
import { Section } from '../../ui/head';
import { say } from '../../ui/said';
import { useShop } from '../../ui/shop';
import { failureInWords } from '../../work/context/failure';
import { theShop } from '../../work/desk/client';
import { marketsOf } from '../../work/quoting/worth';

/** How each marketplace writes buyers' words, and what is not printed. */
export function ReadingRules({ onDone }: { onDone: () => void }) {
  const shop = useShop();
  const id = useId();
  const [patterns, setPatterns] = useState<Readonly<Record<string, string>>>(
    shop?.settings.personal?.patterns ?? {},
  );
  const [forbidden, setForbidden] = useState((shop?.settings.personal?.forbidden ?? []).join('\n'));
  if (!shop) return null;
  const save = async () => {
    const words = forbidden
      .split('\n')
      .map((w) => w.trim().slice(0, 80))
      .filter(Boolean);
    try {
      await theShop().setPersonal({
        patterns: Object.fromEntries(Object.entries(patterns).filter(([, p]) => p.trim())),
        forbidden: [...new Set(words)].slice(0, 2_000),
      });
      await say('Words are read like this from now on.', { undo: true });
      onDone();
    } catch (error) {
      await say(failureInWords(error), { wrong: true });
    }
  };
  return (
    <form
      className="border-t border-rule bg-surface px-4 pb-4"
      onSubmit={(e) => {
        e.preventDefault();
        void save();
      }}
    >
      <div className="grid max-w-5xl grid-cols-2 gap-8">
        <Section title="How a marketplace writes them">
          <p className="text-[13px] text-muted">
            Rows such as “Name: Ida” are read by themselves. Where a marketplace writes one text, say how,
            with the names of fields in braces: For {'{Name}'}, on {'{Date}'}
          </p>
          {marketsOf(shop).map((m) => (
            <label key={m.id} className="mt-1.5 block text-xs text-muted">
              {m.name}
              <input
                value={patterns[m.id] ?? ''}
                placeholder="by the names of fields"
                onChange={(e) => setPatterns({ ...patterns, [m.id]: e.target.value.slice(0, 400) })}
                className="mt-0.5 block w-full rounded-sm border border-edge bg-surface px-1.5 py-1 text-[13.5px] text-ink"
              />
            </label>
          ))}
        </Section>
        <Section title="Words that are not printed">
          <label htmlFor={id} className="text-[13px] text-muted">
            One a row: marks of others, insults. A proof that has one says so before you approve it.
          </label>
          <textarea
            id={id}
            rows={6}
            value={forbidden}
            onChange={(e) => setForbidden(e.target.value)}
            className="mt-1 block w-full rounded-sm border border-edge bg-surface px-1.5 py-1 text-[13.5px]"
          />
        </Section>
      </div>
      <div className="mt-2 flex gap-2">
        <Button kind="main" type="submit">
          Save
        </Button>
        <Button kind="text" onClick={onDone}>
          Cancel
        </Button>
      </div>
    </form>
  );
}
