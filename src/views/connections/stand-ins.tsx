'use client';
import { useState } from 'react';
import { Button } from '../../ui/button';
import { download } from '../../ui/download';
import { FileButton, ROWS } from '../../ui/file-button';
import { say } from '../../ui/said';
import { theShop } from '../../work/desk/client';
import type { Connection } from '../../work/model';
import { PROVOCATIONS, type Provocation } from './provocations';

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
    const wrong = await theShop().provoke(service, what, body);
    await say(wrong ?? done, { wrong: wrong !== null });
  };
  /** Asks a service, or both of them, for what is provoked. */
  const ask = async ({ of, what, body, done }: Provocation) => {
    const sent = typeof body === 'function' ? body(n) : body;
    const says = (count: number) => (typeof done === 'function' ? done(count) : done);
    if (of === 'supplier') return act(supplier, what, sent, says(n));
    if (of === 'marketplace') return act(market, what, sent, says(n));
    if (of === 'both') {
      for (const service of [supplier, market]) await act(service, what, sent, `${service}: ${says(n)}`);
      return;
    }
    const skus = await theShop().someItems(supplier, of.items, n);
    if (!skus.length) return say(`No listing is ${of.items}.`, { wrong: true });
    await act(supplier, what, { skus, ...sent }, says(skus.length));
  };
  const give = async (what: 'example' | 'listing-file', body: object, name: string) => {
    const answer = await theShop().answeredText(market, what, body);
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
        {PROVOCATIONS.map(([name, list]) => (
          <fieldset key={name}>
            <legend className="pb-1 text-xs font-semibold text-muted">{name}</legend>
            <div className="flex flex-wrap gap-1.5">
              {list.map((one) => (
                <Button key={one.words} onClick={() => ask(one)}>
                  {one.words}
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
