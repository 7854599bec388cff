'use client';
import Link from 'next/link';
import { countOf, formatCount } from '../../core/units';
import { useAddress } from '../../ui/address';
import { useAnswer } from '../../ui/answer';
import { Button } from '../../ui/button';
import { ColumnHeads } from '../../ui/column-heads';
import { Empty, Head } from '../../ui/head';
import { Loading } from '../../ui/loading';
import { useListingsVersion } from '../../ui/versions';
import { theShop } from '../../work/desk/client';
import { GroupEditor } from './group-editor';
import { goesByInWords } from './words';

/** Groups of products: what each holds, what goes by it, and the one that is worked on. */
export function GroupsPage() {
  const version = useListingsVersion();
  const { get, set } = useAddress();
  const chosen = get('group');
  const groups = useAnswer(() => (version ? theShop().groups() : undefined), [version]);
  if (!groups) return <Loading name="Groups" />;
  const group = groups.find((g) => g.id === chosen) ?? null;
  if (group || chosen === 'new')
    return (
      <GroupEditor
        key={chosen}
        group={group}
        groups={groups}
        version={version}
        onClose={(id) => set({ group: id ?? '' }, true)}
      />
    );
  return (
    <section className="flex min-w-0 grow flex-col overflow-auto">
      <Head
        name="Groups"
        state={
          chosen
            ? 'The group of this address is not there any more.'
            : groups.length
              ? `${countOf(groups.length, 'group')} of products: for plans, presets, feeds and searches.`
              : 'Products that belong together, by what they are or how they sell.'
        }
      >
        <Link href="/listings/feeds" className="text-[13px] text-river underline">
          Feeds
        </Link>
        <Button kind="main" onClick={() => set({ group: 'new' }, true)}>
          New group
        </Button>
      </Head>
      {groups.length ? (
        <div className="px-4 pb-6">
          <table className="w-full text-[13.5px]">
            <caption className="sr-only">Groups of products</caption>
            <ColumnHeads
              left={['Name', 'Conditions']}
              right={['Products', 'Listings']}
              last={['Goes by it']}
            />
            <tbody>
              {groups.map((g) => (
                <tr key={g.id} className="border-t border-rule-soft align-baseline">
                  <th scope="row" className="py-1 pr-3 text-left font-normal">
                    <button
                      type="button"
                      className="font-semibold text-river hover:underline"
                      onClick={() => set({ group: g.id }, true)}
                    >
                      {g.name}
                    </button>
                  </th>
                  <td className="pr-3 font-mono text-[12.5px] break-words">
                    {g.line || 'all products'}
                    {g.picked.length + g.left.length > 0 && (
                      <span className="block font-sans text-xs text-muted">{byHandInWords(g)}</span>
                    )}
                    {g.problems.map((p) => (
                      <span key={p.raw} className="block font-sans text-xs text-loss">
                        {p.reason}
                      </span>
                    ))}
                  </td>
                  <td className="pr-3 text-right">{formatCount(g.products)}</td>
                  <td className="pr-3 text-right">
                    <Link
                      className="text-river hover:underline"
                      href={`/listings?q=${encodeURIComponent(`group:"${g.name}"`)}`}
                    >
                      {formatCount(g.listings)}
                    </Link>
                  </td>
                  <td className="pr-3 text-muted">{g.uses.map(goesByInWords).join('; ') || '–'}</td>
                </tr>
              ))}
            </tbody>
          </table>
        </div>
      ) : (
        <Empty title="No group yet">
          <p>
            A group holds products by conditions (brand, cost, what sold within 30 days, in or not in another
            group), and those that you pick by hand. Price plans, presets, feeds and searches go by it:
            group:Name.
          </p>
          <Button kind="main" onClick={() => set({ group: 'new' }, true)}>
            New group
          </Button>
        </Empty>
      )}
    </section>
  );
}

const byHandInWords = ({ picked, left }: { picked: readonly string[]; left: readonly string[] }) =>
  [
    ...(picked.length ? [`${formatCount(picked.length)} picked by hand`] : []),
    ...(left.length ? [`${formatCount(left.length)} left out`] : []),
  ].join(', ');
