import type { ReactNode } from 'react';

export type Tone = 'well' | 'waits' | 'person' | 'loss';

const SHAPE: Record<Tone, ReactNode> = {
  well: <circle cx="5" cy="5" r="4" fill="var(--river)" />,
  waits: <circle cx="5" cy="5" r="3.5" fill="none" stroke="var(--muted)" strokeWidth="1.8" />,
  person: <path d="M5 0l5 5-5 5-5-5z" fill="var(--lamp)" />,
  loss: <path d="M1 1l8 8M9 1l-8 8" stroke="var(--loss)" strokeWidth="2.2" />,
};

/** A state as a shape and a word; the colour only repeats it. */
export function StateMark({ tone, children }: { tone: Tone; children: ReactNode }) {
  return (
    <span
      className={`inline-flex max-w-full items-center gap-1.5 text-[12.5px] ${tone === 'person' ? 'text-lamp' : tone === 'loss' ? 'font-semibold text-loss' : ''}`}
    >
      <svg aria-hidden width="10" height="10" className="shrink-0">
        {SHAPE[tone]}
      </svg>
      <span className="truncate">{children}</span>
    </span>
  );
}
