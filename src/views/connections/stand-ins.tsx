'use client';
import { useState } from 'react';
import { countOf } from '../../core/units';
import { Button } from '../../ui/button';
import { download } from '../../ui/download';
import { FileButton, ROWS } from '../../ui/file-button';
import { say } from '../../ui/said';
import { work } from '../../work/browser';
import { theShop } from '../../work/clients';
import { answeredText, provoke } from '../../work/connections/provoke';
import type { Connection } from '../../work/model';

/**
 * The demo's weather: what the simulated services are asked to do, so that one can see how the shop takes it.
 */
export function StandIns({ connections }: { connections: readonly Connection[] }) {
  const [n, setN] = useState(3);
  const supplier = connections.find((c) => c.role === 'supplier' && c.service)?.service ?? 'brackwater';
  const markets = connections
    .filter((c) => c.role === 'marketplace' && c.service)
    .sort((a, b) => a.connectedAt - b.connectedAt);
  const [chosen, setChosen] = useState<string | null>(null);
  const market = markets.find((c) => c.service === chosen)?.service ?? markets[0]?.service ?? 'pennywharf';
  const act = async (service: string, what: string, body: unknown, done: string) => {
    const wrong = await provoke(work, service, what, body);
    await say(wrong ?? done, { wrong: wrong !== null });
  };
  const moveSome = async (what: 'cost' | 'stock', state: 'live' | 'paused', body: object, done: string) => {
    const skus = await theShop().someItems(supplier, state, n);
    if (!skus.length) return say(`No listing is ${state}.`, { wrong: true });
    await act(
      supplier,
      what,
      { skus, ...body },
      `${countOf(skus.length, 'item')}: ${done}. The next reading of the catalogue finds it.`,
    );
  };
  const both = (what: string, body: object, done: string) =>
    Promise.all([supplier, market].map((s) => act(s, what, body, `${s}: ${done}`)));
  const groups = [
    [
      'The supplier',
      [
        ['Costs rise by 25 %', () => moveSome('cost', 'live', { percent: 25 }, 'cost up 25 %')],
        ['Costs fall by 10 %', () => moveSome('cost', 'live', { percent: -10 }, 'cost down 10 %')],
        ['Out of stock', () => moveSome('stock', 'live', { stock: 0 }, 'out of stock')],
        ['Back in stock', () => moveSome('stock', 'paused', { stock: 40 }, 'back in stock')],
        [
          'Parcels leave',
          () => act(supplier, 'advance', { status: 'accepted' }, 'Accepted orders were shipped.'),
        ],
        [
          'Cancels an order',
          () => act(supplier, 'cancel', { n: 1 }, 'The newest accepted order was cancelled by the supplier.'),
        ],
        ['Parcels arrive', () => act(supplier, 'advance', { status: 'shipped' }, 'Parcels were delivered.')],
      ],
    ],
    [
      'The marketplace',
      [
        ['New orders', () => act(market, 'orders', { n }, `${countOf(n, 'order')} made.`)],
        [
          'A personalised order',
          () => act(market, 'orders', { n: 1, personalised: true }, 'A personalised order was made.'),
        ],
        [
          'A badly addressed order',
          () => act(market, 'orders', { n: 1, badAddress: true }, 'An order with half a postcode was made.'),
        ],
        [
          'A buyer cancels',
          () => act(market, 'cancel', { n: 1 }, 'The buyer of the newest paid order cancelled it.'),
        ],
        [
          'The sale fee rises',
          () =>
            act(
              market,
              'fees',
              { rise: 2 },
              'The sale fee is 2 points higher. “Read fees and rules” finds it.',
            ),
        ],
        [
          'A listing is edited there',
          () =>
            act(
              market,
              'edit',
              {},
              'The newest listing has another title there. “Look for edits on the site” finds it.',
            ),
        ],
        ['The sale fee as before', () => act(market, 'fees', { rise: 0 }, 'The sale fee is what it was.')],
        ['Withdraw consent', () => act(market, 'withdraw', {}, 'Consent was withdrawn on the marketplace.')],
      ],
    ],
    [
      'The line between',
      [
        ['Outage', () => both('faults', { outage: true }, 'out of service until “All well”')],
        ['Slow', () => both('faults', { slowMs: 4000 }, 'answers take four seconds')],
        [
          'Too many requests',
          () => both('faults', { tooMany: 3 }, 'the next three requests are turned away'),
        ],
        [
          'Lose the next answer',
          () => both('faults', { loseAnswers: 1 }, 'the next answer is lost after it was carried out'),
        ],
        [
          'Something between answers',
          () =>
            both(
              'faults',
              { stray: 1 },
              'the next answer is replaced by a 404 from between, after it was carried out',
            ),
        ],
        ['Say things twice', () => both('faults', { duplicate: true }, 'changes are told more than once')],
        ['Tell late', () => both('faults', { late: 3 }, 'changes come three readings late')],
        [
          'Spoil a page',
          () =>
            act(
              supplier,
              'faults',
              { spoil: 'negative-cost' },
              'The catalogue has a negative cost in it now.',
            ),
        ],
        [
          'All well',
          () =>
            both(
              'faults',
              {
                outage: false,
                slowMs: 0,
                tooMany: 0,
                loseAnswers: 0,
                stray: 0,
                duplicate: false,
                late: 0,
                spoil: null,
              },
              'all well',
            ),
        ],
      ],
    ],
  ] as const;
  const give = async (what: 'example' | 'listing-file', body: object, name: string) => {
    const answer = await answeredText(work, market, what, body);
    if (!answer.ok) return say(answer.reason, { wrong: true });
    download(name, answer.text);
    return say(`${name} is written.`);
  };
  return (
    <article aria-label="Stand-ins" className="rounded-sm border border-rule bg-surface p-4 lg:col-span-2">
      <h2 className="font-semibold">
        Stand-ins{' '}
        <span className="text-xs font-normal text-muted">
          the services here are simulated: try how the shop takes it
        </span>
      </h2>
      <label className="mt-2 mr-4 inline-block text-[13px] text-muted">
        Marketplace{' '}
        <select
          value={market}
          onChange={(e) => setChosen(e.target.value)}
          className="rounded-sm border border-edge bg-surface text-ink"
        >
          {markets.map((c) => (
            <option key={c.id} value={c.service ?? ''}>
              {c.name}
            </option>
          ))}
        </select>
      </label>
      <label className="mt-2 inline-block text-[13px] text-muted">
        How many{' '}
        <input
          type="number"
          min={1}
          max={200}
          value={n}
          onChange={(e) => setN(Math.min(200, Math.max(1, Math.round(Number(e.target.value)) || 1)))}
          className="w-16 rounded-sm border border-edge bg-surface px-1 text-right text-ink"
        />
      </label>
      <div className="mt-2 grid gap-3 md:grid-cols-3">
        {groups.map(([name, actions]) => (
          <fieldset key={name}>
            <legend className="pb-1 text-xs font-semibold text-muted">{name}</legend>
            <div className="flex flex-wrap gap-1.5">
              {actions.map(([words, doIt]) => (
                <Button key={words} onClick={() => doIt()}>
                  {words}
                </Button>
              ))}
            </div>
          </fieldset>
        ))}
        <fieldset>
          <legend className="pb-1 text-xs font-semibold text-muted">The marketplace, by files</legend>
          <div className="flex flex-wrap gap-1.5">
            <Button onClick={() => give('example', {}, `${market}-example.csv`)}>
              Example of its listing file
            </Button>
            <FileButton
              words="Reads a listing file"
              name="A listing file for the marketplace"
              accept={ROWS}
              onFile={async (file) =>
                give('listing-file', { text: await file.text() }, `${market}-answer.csv`)
              }
            />
          </div>
        </fieldset>
      </div>
    </article>
  );
}
