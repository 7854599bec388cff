import { Head } from './head';

const ROWS = [0, 1, 2, 3, 4, 5, 6, 7];

/** A view that is being read: its head, and grey rows where the others will be. A figure that is not known yet is not 0. */
export function Loading({ name, what = 'Looking …' }: { name: string; what?: string }) {
  return (
    <section className="flex min-w-0 grow flex-col" aria-busy>
      <Head name={name} state={<span role="status">{what}</span>} />
      <div aria-hidden className="border-t border-rule bg-surface">
        {ROWS.map((row) => (
          <div key={row} className="flex h-9 items-center gap-4 border-b border-rule-soft px-4">
            <span className="size-4 rounded-sm bg-rule" />
            <span className="h-3 w-1/3 rounded-sm bg-rule" />
            <span className="h-3 w-1/6 rounded-sm bg-rule" />
          </div>
        ))}
      </div>
    </section>
  );
}
