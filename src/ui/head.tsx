import type { ReactNode } from 'react';

/** The head of a view: its name, one sentence of state, the actions. */
export function Head({ name, state, children }: { name: string; state: ReactNode; children?: ReactNode }) {
  return (
    <header className="flex flex-wrap items-center gap-x-3.5 gap-y-1.5 px-4 pt-3 pb-2">
      <h1 className="text-xl font-semibold">{name}</h1>
      <p className="min-w-0 flex-1 basis-52 text-[13.5px] text-muted">{state}</p>
      {children && <div className="flex flex-wrap items-center gap-x-3.5 gap-y-1.5">{children}</div>}
    </header>
  );
}

/** How many need a person. @param onLook shows them alone; missing where they are all that is shown */
export const NeedsYou = ({ children, onLook }: { children: ReactNode; onLook?: () => void }) =>
  onLook ? (
    <button type="button" className="font-semibold text-lamp underline" onClick={onLook}>
      {children}
    </button>
  ) : (
    <b className="font-semibold text-lamp">{children}</b>
  );

/** A section of a docket. */
export function Section({
  title,
  aside,
  children,
}: {
  title: string;
  aside?: ReactNode;
  children: ReactNode;
}) {
  return (
    <section>
      <h3 className="mt-4 mb-1.5 flex border-b border-rule-soft pb-0.5 text-xs font-semibold text-muted">
        <span className="grow">{title}</span>
        {aside}
      </h3>
      {children}
    </section>
  );
}

/** Something that needs a person, with the steps at hand. */
export function Notice({
  tone = 'person',
  children,
}: {
  tone?: 'person' | 'loss' | 'plain';
  children: ReactNode;
}) {
  const look =
    tone === 'person'
      ? 'border-lamp bg-lamp-soft'
      : tone === 'loss'
        ? 'border-loss bg-loss-soft'
        : 'border-edge bg-raised';
  return <div className={`my-2.5 border-l-[3px] px-2.5 py-2 text-[13.5px] ${look}`}>{children}</div>;
}

/** An empty state that teaches the next step and does it. */
export function Empty({ title, children }: { title: string; children: ReactNode }) {
  return (
    <div className="m-4 max-w-xl rounded-sm border border-rule bg-surface p-6">
      <h2 className="text-base font-semibold">{title}</h2>
      <div className="mt-2 space-y-3 text-muted">{children}</div>
    </div>
  );
}
