'use client';
import { useId, useState } from 'react';
import { KINDS } from '../../core/fields';
import { isCondition } from '../../core/groups';
import { EVERYTHING, problemInWords } from '../../core/query';
import { countOf, formatCount } from '../../core/units';
import { useAnswer, useFollowing } from '../../ui/answer';
import { Button } from '../../ui/button';
import { useConditionLine } from '../../ui/condition-line';
import { Goods } from '../../ui/goods';
import { Head, Notice, Section } from '../../ui/head';
import { useKeptDraft } from '../../ui/kept';
import { say } from '../../ui/said';
import { theShop } from '../../work/desk/client';
import type { GroupDraft, GroupHeld, GroupLine } from '../../work/groups/look';
import type { WeighedGroup } from '../../work/groups/weigh';
import { ConditionTree } from './condition-tree';
import { goesByInWords } from './words';

const LOOK = 'w-full rounded-sm border border-edge bg-surface px-1.5 py-1 text-[13.5px]';

const texts = (value: unknown): value is readonly string[] =>
  Array.isArray(value) && value.every((one) => typeof one === 'string');

/** Whether what was kept of a draft is one. */
const isDraft = (value: unknown): value is GroupDraft => {
  const v = value as GroupDraft | null;
  return typeof v?.name === 'string' && isCondition(v.filter) && texts(v.picked) && texts(v.left);
};

/** A group as it is worked on, beside what it holds while one types, and what the change would do. */
export function GroupEditor({
  group,
  groups,
  version,
  onClose,
}: {
  group: GroupLine | null;
  groups: readonly GroupLine[];
  version: number;
  /** @param id the group that is shown next; null for the list */
  onClose: (id: string | null) => void;
}) {
  const [begun] = useState(group);
  const saved: GroupDraft = group
    ? { id: group.id, name: group.name, filter: group.filter, picked: group.picked, left: group.left }
    : { id: null, name: '', filter: EVERYTHING, picked: [], left: [] };
  const { draft, changed, set, drop } = useKeptDraft(`group:${group?.id ?? 'new'}`, saved, isDraft);
  const put = (next: Partial<GroupDraft>) => set({ ...draft, ...next });
  const [refused, setRefused] = useState<string | null>(null);
  const ids = useId();
  const [line, type] = useConditionLine(draft.filter, KINDS.listing, (filter) => put({ filter }));
  const text = JSON.stringify(draft);
  const held = useFollowing(() => theShop().lookAtGroup(draft), [text, version]);
  const weighed = useAnswer(
    () => (changed ? theShop().weighGroup(draft) : null),
    [text, version, changed],
    300,
  );
  const left = useAnswer(() => theShop().productsOf(draft.left), [draft.left.join(), version]);
  // Somebody else saved it while it was worked on.
  const overtaken = changed && begun !== null && group !== null && begun.at !== group.at;
  const save = async () => {
    const done = await theShop().saveGroup(draft);
    if (!done.ok) return setRefused(done.reason);
    drop();
    setRefused(null);
    onClose(null);
    await say(
      `Group “${draft.name.trim()}” saved.${done.repriced ? ` ${countOf(done.repriced, 'listing')} on the way with a new price or quantity.` : ''}${done.told ? ` ${countOf(done.told, 'listing')} on the way with new attributes.` : ''}`,
      { undo: true },
    );
  };
  const remove = async () => {
    if (!group) return;
    const done = await theShop().dropGroup(group.id);
    if (!done.ok) return setRefused(done.reason);
    drop();
    onClose(null);
    await say(`Group “${group.name}” removed.`, { undo: true });
  };
  return (
    <section className="flex min-w-0 grow flex-col overflow-auto">
      <Head name={group ? group.name : 'New group'} state={stateOf(held)}>
        <Button
          kind="text"
          onClick={() => {
            onClose(null);
          }}
        >
          All groups
        </Button>
        {group && <Button onClick={remove}>Remove</Button>}
        {changed && <Button onClick={drop}>Discard changes</Button>}
        <Button
          kind="main"
          disabled={!changed || !draft.name.trim() || !!held?.problems.length}
          onClick={save}
        >
          Save group
        </Button>
      </Head>
      <div className="grid grow gap-x-6 gap-y-2 px-4 pb-6 lg:grid-cols-[minmax(0,1fr)_minmax(0,1fr)]">
        <div>
          {refused && <Notice tone="loss">{refused}</Notice>}
          {overtaken && (
            <Notice>
              This group was saved elsewhere while you worked on it. Saving puts yours in its place.
            </Notice>
          )}
          <label htmlFor={`${ids}-name`} className="block text-xs text-muted">
            Name
          </label>
          <input
            id={`${ids}-name`}
            className={LOOK}
            value={draft.name}
            maxLength={80}
            onChange={(e) => put({ name: e.target.value })}
          />
          <label htmlFor={`${ids}-line`} className="mt-2 block text-xs text-muted">
            As a search line
          </label>
          <textarea
            id={`${ids}-line`}
            rows={2}
            className={`${LOOK} font-mono`}
            value={line}
            placeholder="brand:Fellmoor (margin:>20 or sales:>5) -group:Clearance"
            aria-describedby={`${ids}-wrong`}
            onChange={(e) => type(e.target.value)}
          />
          <ul id={`${ids}-wrong`} className="min-h-4 text-xs text-loss" role="status">
            {held?.problems.map((p) => (
              <li key={p.raw}>{problemInWords(p)}</li>
            ))}
          </ul>
          <h2 className="mt-2 mb-1 text-sm font-semibold">Conditions</h2>
          <ConditionTree
            subject="listing"
            condition={draft.filter}
            groups={groups.flatMap((g) => (g.id === group?.id ? [] : [g.name]))}
            onChange={(filter) => put({ filter })}
          />
          {draft.left.length > 0 && (
            <Section title={`${formatCount(draft.left.length)} left out by hand`}>
              <ul className="space-y-1">
                {left?.map((p) => (
                  <li key={p.id} className="flex items-center gap-2">
                    <span className="min-w-0 grow">
                      <Goods picture={p.picture} title={p.title} under={p.sku} />
                    </span>
                    <Button kind="text" onClick={() => put({ left: draft.left.filter((id) => id !== p.id) })}>
                      Let it in
                    </Button>
                  </li>
                ))}
              </ul>
            </Section>
          )}
        </div>
        <div>
          {changed && weighed && <Effect weighed={weighed} isNew={group === null} />}
          <h2 className="mt-1 mb-1 text-sm font-semibold">What it holds</h2>
          <Held held={held} draft={draft} put={put} />
        </div>
      </div>
    </section>
  );
}

function stateOf(held: GroupHeld | undefined): string {
  if (!held) return 'Counting …';
  if (held.problems.length) return 'It holds nothing until what is not understood is mended.';
  return `${countOf(held.products, 'product')} in ${countOf(held.listings, 'listing')}.`;
}

/** What the change would do to what goes by the group. */
function Effect({ weighed: w, isNew }: { weighed: WeighedGroup; isNew: boolean }) {
  const rows: (readonly [string, string])[] = [
    ...(isNew || w.comes + w.leaves === 0
      ? []
      : [['The group', `${formatCount(w.comes)} come in, ${formatCount(w.leaves)} leave`] as const]),
    ...(w.dearer + w.cheaper + w.unpriced
      ? [
          [
            'Prices on sale',
            `${formatCount(w.dearer)} up, ${formatCount(w.cheaper)} down${w.unpriced ? `, ${formatCount(w.unpriced)} without a plan` : ''}`,
          ] as const,
        ]
      : []),
    ...(w.told ? [['Told the marketplaces', `${countOf(w.told, 'listing')}`] as const] : []),
    ...w.feeds.map(
      (f) => [`Feed ${f.name}`, `${formatCount(f.comes)} come in, ${formatCount(f.leaves)} leave`] as const,
    ),
  ];
  return (
    <Notice tone={w.unpriced ? 'person' : 'plain'}>
      <h2 className="text-sm font-semibold">What saving does</h2>
      {w.uses.length > 0 && (
        <p className="text-xs text-muted">Goes by it: {w.uses.map(goesByInWords).join('; ')}</p>
      )}
      {rows.length ? (
        <table className="text-[13.5px]">
          <caption className="sr-only">What saving does</caption>
          <tbody>
            {rows.map(([what, says]) => (
              <tr key={what}>
                <th scope="row" className="pr-4 text-left font-normal text-muted">
                  {what}
                </th>
                <td>{says}</td>
              </tr>
            ))}
          </tbody>
        </table>
      ) : (
        <p>{isNew ? 'Nothing goes by it yet.' : 'It holds the same listings as before.'}</p>
      )}
    </Notice>
  );
}

/** The products of a group, each with a way out of it, and those that are searched for to be picked. */
function Held({
  held,
  draft,
  put,
}: {
  held: GroupHeld | undefined;
  draft: GroupDraft;
  put: (next: Partial<GroupDraft>) => void;
}) {
  const [find, setFind] = useState('');
  const others = useAnswer(
    () =>
      find.trim()
        ? theShop().listings(
            {
              ...{ query: find, sort: 'title', descending: false, offset: 0, limit: 12 },
              of: 'all',
            },
            Date.now(),
          )
        : null,
    [find],
    80,
  );
  const inIt = new Set(held?.some.map((p) => p.id));
  return (
    <>
      <ul className="grid gap-x-4 gap-y-1 xl:grid-cols-2">
        {held?.some.map((p) => (
          <li key={p.id} className="flex items-center gap-1 border-b border-rule-soft py-0.5">
            <span className="min-w-0 grow">
              <Goods
                picture={p.picture}
                title={p.title}
                under={`${p.sku}, ${countOf(p.listings, 'listing')}${p.byHand === 'picked' ? ', picked by hand' : ''}`}
              />
            </span>
            <Button
              kind="text"
              aria-label={`Leave out ${p.title}`}
              onClick={() =>
                put(
                  p.byHand === 'picked'
                    ? { picked: draft.picked.filter((id) => id !== p.id) }
                    : { left: [...draft.left, p.id] },
                )
              }
            >
              {p.byHand === 'picked' ? 'Unpick' : 'Leave out'}
            </Button>
          </li>
        ))}
      </ul>
      {held && held.products > held.some.length && (
        <p className="mt-1 text-xs text-muted">
          {formatCount(held.products - held.some.length)} more. All of them stand in Listings once it is
          saved.
        </p>
      )}
      {held && !held.products && !held.problems.length && (
        <p className="text-[13.5px] text-muted">Nothing that is listed is in it now.</p>
      )}
      <label className="mt-4 block text-xs text-muted">
        Pick products by hand
        <input
          type="search"
          className={LOOK}
          value={find}
          placeholder="A word of its title, or a SKU"
          onChange={(e) => setFind(e.target.value)}
        />
      </label>
      {others && (
        <ul className="mt-1 space-y-1">
          {others.rows.length === 0 && <li className="text-xs text-muted">Nothing is found.</li>}
          {others.rows.map((row) => (
            <li key={row.id} className="flex items-center gap-1">
              <span className="min-w-0 grow">
                <Goods picture={row.picture} title={row.title} under={`${row.sku}, ${row.market}`} />
              </span>
              {draft.picked.includes(row.product) ? (
                <span className="text-xs text-muted">picked</span>
              ) : (
                <Button
                  kind="text"
                  aria-label={`Pick ${row.title} on ${row.market}`}
                  onClick={() =>
                    put({
                      picked: [...draft.picked, row.product],
                      left: draft.left.filter((id) => id !== row.product),
                    })
                  }
                >
                  {inIt.has(row.product) ? 'Keep in' : 'Pick'}
                </Button>
              )}
            </li>
          ))}
        </ul>
      )}
    </>
  );
}
