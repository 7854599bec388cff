'use client';
import dynamic from 'next/dynamic';
import { useDeferredValue, useState } from 'react';
import { useForm } from 'react-hook-form';
import { formatMinor } from '../../core/money';
import { taxInWords } from '../../core/pricing';
import { clockTime, countOf } from '../../core/units';
import { useAddress } from '../../ui/address';
import { useFeed } from '../../ui/asked';
import { Button } from '../../ui/button';
import { useNow } from '../../ui/clock';
import { Head, Notice } from '../../ui/head';
import { JobsTable } from '../../ui/jobs-table';
import { Loading } from '../../ui/loading';
import { localZone } from '../../ui/local-zone';
import { say } from '../../ui/said';
import { useShop } from '../../ui/shop';
import { StateMark } from '../../ui/state-mark';
import type { Service } from '../../work/connections/connections';
import { theShop } from '../../work/desk/client';
import type { Connection, HealthRow, Job } from '../../work/model';
import { isOpenAt, troubleInWords } from '../../work/outbox/circuit';
import { useWorld } from '../frame/frame';
import { ConnectionName } from './connection-name';
import { AddFileMarket, MarketFiles } from './file-market';
import { SiteNews, SiteTerms } from './site-terms';
import { StandIns } from './stand-ins';
import { costsInWords, SupplierCostsForm } from './supplier-costs';

/** Its drawing comes when it is asked for. */
const ReadDays = dynamic(() => import('./read-days').then((m) => m.ReadDays), { ssr: false });

export function Connections() {
  const world = useWorld();
  const now = useNow(1_000);
  const { get } = useAddress();
  // While a job runs it is told many times a second: drawn as there is time.
  const read = useDeferredValue(useFeed('connections'));
  if (!read || !now || !world) return <Loading name="Connections" />;
  const open = world.services.filter((s) => !read.connections.some((c) => c.id === s.id));
  return (
    <section className="min-w-0 grow overflow-auto">
      <Head
        name="Connections"
        state={
          read.connections.length
            ? `${countOf(read.connections.length, 'connection')}. Times are yours${localZone() === 'Europe/London' ? '' : ` (${localZone()})`}.`
            : 'Nothing is connected yet.'
        }
      />
      <div className="grid max-w-6xl items-start gap-4 px-4 pb-8 lg:grid-cols-2">
        {read.connections.map((c) => (
          <ConnectionCard
            key={c.id}
            connection={c}
            health={read.health.get(c.id)}
            jobs={read.jobs.filter((j) => j.subject === c.id)}
            refused={read.refused.filter((r) => r.connection === c.id)}
            service={world.services.find((s) => s.id === c.service)}
            now={now}
            pointed={get('row') === c.id}
          />
        ))}
        {open.map((s) => (
          <div key={s.id} className="rounded-sm border border-dashed border-edge p-4">
            <h2 className="font-semibold">
              {s.name} <span className="text-xs font-normal text-muted">{s.role}, not connected</span>
            </h2>
            <p className="mt-1 text-[13.5px] text-muted">{s.about}.</p>
            {s.role === 'supplier' ? (
              <SupplierForm service={s} />
            ) : (
              <ConsentButton service={s} words={`Connect ${s.name}`} />
            )}
          </div>
        ))}
        <AddFileMarket />
        {!world.services.length && (
          <Notice>
            Sampan’s server knows no service to connect. It is started with one by `npm run demo`.
          </Notice>
        )}
        {world.standIns && read.connections.length > 0 && <StandIns connections={read.connections} />}
      </div>
    </section>
  );
}

function ConsentButton({ service, words }: { service: Service; words: string }) {
  return (
    <div className="mt-3">
      <Button
        kind="main"
        onClick={async () => {
          window.location.href = await theShop().startConsent(
            service,
            `${window.location.origin}/connections/return`,
          );
        }}
      >
        {words}
      </Button>
      <p className="mt-1.5 text-xs text-muted">
        You go to {service.name}’s own page, say yes there, and come back.
      </p>
    </div>
  );
}

function SupplierForm({ service, again }: { service: Service; again?: boolean }) {
  const { register, handleSubmit, formState } = useForm<{ account: string; key: string }>();
  const [wrong, setWrong] = useState<string | null>(null);
  const submit = async ({ account, key }: { account: string; key: string }) => {
    setWrong(null);
    const done = await theShop().connectSupplier(service, account, key);
    if (done.ok)
      await say(
        again ? `${done.name} works again.` : `${done.name} is connected. Its catalogue is being read.`,
      );
    else setWrong(done.reason);
  };
  const look = 'block w-44 rounded-sm border border-edge bg-surface px-1.5 py-1 font-mono text-ink';
  return (
    <form
      aria-label={again ? `Account of ${service.name}` : `Connect ${service.name}`}
      onSubmit={handleSubmit(submit)}
      className="mt-3"
    >
      <div className="flex flex-wrap items-end gap-3">
        <label className="text-xs text-muted">
          Account number
          <input
            {...register('account', { required: true })}
            autoComplete="off"
            aria-invalid={Boolean(formState.errors.account)}
            className={look}
          />
        </label>
        <label className="text-xs text-muted">
          Key
          <input
            {...register('key', { required: true })}
            type="password"
            autoComplete="off"
            aria-invalid={Boolean(formState.errors.key)}
            className={look}
          />
        </label>
        <Button kind="main" type="submit" disabled={formState.isSubmitting}>
          {formState.isSubmitting ? 'Asking …' : again ? 'Save account and key' : `Connect ${service.name}`}
        </Button>
      </div>
      {(formState.errors.account || formState.errors.key) && (
        <p className="mt-1.5 text-[13px] text-loss">Both are needed: the account number and the key.</p>
      )}
      {wrong && (
        <p role="alert" className="mt-1.5 text-[13px] text-loss">
          {wrong}
        </p>
      )}
    </form>
  );
}

function state(c: Connection, health: HealthRow | undefined, now: number) {
  if (c.paused) return <StateMark tone="waits">Paused</StateMark>;
  if (health?.trouble?.kind === 'credentials')
    return (
      <StateMark tone="person">
        {c.role === 'marketplace' ? 'Consent is needed again' : 'Account or key is wrong'}
      </StateMark>
    );
  if (health?.trouble)
    return <StateMark tone="loss">{isOpenAt(health, now) ? 'Unreachable, retrying' : 'Failing'}</StateMark>;
  return <StateMark tone="well">Works</StateMark>;
}

interface CardProps {
  readonly connection: Connection;
  readonly health: HealthRow | undefined;
  readonly jobs: readonly Job[];
  readonly refused: readonly { readonly sku: string; readonly reason: string }[];
  readonly service: Service | undefined;
  readonly now: number;
  readonly pointed: boolean;
}

function ConnectionCard({ connection: c, health, jobs, refused, service, now, pointed }: CardProps) {
  const [asks, setAsks] = useState(false);
  const [costing, setCosting] = useState(false);
  const [looking, setLooking] = useState(false);
  const says = troubleInWords(c.role, health, now);
  const balance = health?.balance ?? null;
  const zone = c.role === 'supplier' ? c.zone : c.site.zone;
  const shop = useShop();
  // A supplier's jobs go by the clocks of the shop.
  const ownZone = c.role === 'marketplace' ? c.site.zone : (shop?.settings.zone ?? localZone());
  return (
    <article
      aria-label={c.name}
      className={`rounded-sm border bg-surface p-4 ${pointed ? 'border-river shadow-[inset_3px_0_0_var(--river)]' : 'border-rule'}`}
    >
      <div className="flex items-start gap-3">
        <div className="grow">
          <ConnectionName connection={c} />
          <p className="text-[13px] text-muted">
            {c.role === 'supplier'
              ? `${c.currency}${balance === null ? '' : `, prepaid balance ${formatMinor(balance, c.currency)}`}, ships to ${c.shipsTo.join(', ')}`
              : `${c.site.currency}, ${taxInWords(c.site.fees.tax)}, ${c.lanes.listings === 'file' ? 'by files' : countOf(c.site.categories.length, 'category', 'categories')}`}
            . Its clock shows {clockTime(now, zone)} ({zone}).
          </p>
        </div>
        {state(c, health, now)}
      </div>
      {says && <Notice tone={health?.trouble?.kind === 'credentials' ? 'person' : 'loss'}>{says}</Notice>}
      {health?.trouble?.kind === 'credentials' &&
        service &&
        (c.role === 'supplier' ? (
          <SupplierForm service={service} again />
        ) : (
          <ConsentButton service={service} words="Give consent again" />
        ))}
      {c.role === 'supplier' && costsInWords(c) && (
        <p className="mt-1 text-[13px] text-muted">Besides prices and shipping: {costsInWords(c)}.</p>
      )}
      {c.role === 'marketplace' && <SiteNews connection={c} />}
      {c.role === 'marketplace' && <SiteTerms connection={c} />}
      {c.role === 'marketplace' && c.lanes.listings === 'file' && <MarketFiles market={c} />}
      {jobs.length > 0 && <JobsTable jobs={jobs} paused={c.paused} zone={ownZone} now={now} />}
      {c.role === 'supplier' && (
        <details className="mt-2 text-[13px]" onToggle={(e) => setLooking(e.currentTarget.open)}>
          <summary className="cursor-default text-muted">What its readings brought</summary>
          {looking && <ReadDays supplier={c.id} zone={localZone()} />}
        </details>
      )}
      {refused.length > 0 && (
        <details className="mt-2 text-[13px]">
          <summary className="cursor-default font-semibold text-lamp">
            {countOf(refused.length, 'item')} not imported, with the reason
          </summary>
          <ul className="mt-1 max-h-40 overflow-auto">
            {refused.slice(0, 200).map((r) => (
              <li key={r.sku + r.reason}>
                <span className="font-mono">{r.sku}</span> {r.reason}
              </li>
            ))}
          </ul>
        </details>
      )}
      <div className="mt-3 flex gap-2">
        {jobs.length > 0 && (
          <Button
            onClick={async () => {
              await theShop().pause(c.id, !c.paused);
              await say(
                c.paused
                  ? `${c.name} goes on.`
                  : `${c.name} is paused: nothing is read from it or sent to it. Work waits.`,
              );
            }}
          >
            {c.paused ? 'Go on' : 'Pause'}
          </Button>
        )}
        {c.role === 'supplier' && (
          <Button aria-expanded={costing} onClick={() => setCosting(!costing)}>
            Costs
          </Button>
        )}
        <Button kind="text" onClick={() => setAsks(true)}>
          Disconnect…
        </Button>
      </div>
      {costing && c.role === 'supplier' && (
        <SupplierCostsForm supplier={c} onDone={() => setCosting(false)} />
      )}
      {asks && (
        <Notice tone="loss">
          {c.role === 'supplier'
            ? 'Its catalogue leaves Source, costs and stock are no longer followed, orders can no longer be forwarded.'
            : 'Prices and quantities are no longer told, orders no longer read.'}{' '}
          Listings, orders and their history stay.
          <div className="mt-2 flex gap-2">
            <Button kind="main" onClick={() => theShop().disconnect(c.id)}>
              Disconnect {c.name}
            </Button>
            <Button onClick={() => setAsks(false)}>Keep it</Button>
          </div>
        </Notice>
      )}
    </article>
  );
}
