'use client';
import { useId, useState } from 'react';
import { booksYears, ORDER_YEARS } from '../../core/ledger';
import { CURRENCIES, formatRate, type Parsed, parseRate } from '../../core/money';
import { formatCount, skuBy } from '../../core/units';
import { useAhead } from '../../ui/ahead';
import { AmountField } from '../../ui/amount-field';
import { useAnswer } from '../../ui/answer';
import { useFeed } from '../../ui/asked';
import { Button } from '../../ui/button';
import { Choice } from '../../ui/choice';
import { useNow } from '../../ui/clock';
import { Head } from '../../ui/head';
import { JobsTable } from '../../ui/jobs-table';
import { Loading } from '../../ui/loading';
import { ask, say } from '../../ui/said';
import { useShop } from '../../ui/shop';
import { TextField } from '../../ui/text-field';
import { theShop } from '../../work/desk/client';
import type { Settings } from '../../work/model';
import { SHOP } from '../../work/schedule/job';
import { useStorage } from '../frame/storage';
import { AlertsPanel } from './alerts-panel';
import { RatesPanel } from './rates-panel';
import { ShapesPanel } from './shapes-panel';

/** A share from nothing to half. */
const share = (text: string): Parsed<number> => {
  const parsed = parseRate(text);
  if (!parsed.ok) return parsed;
  return parsed.value >= 0 && parsed.value <= 500_000 ? parsed : { ok: false, reason: 'From 0 % to 50 %' };
};

const days = (text: string): Parsed<number> => {
  const n = Number(text.trim());
  return Number.isInteger(n) && n >= 30 && n <= 3650
    ? { ok: true, value: n }
    : { ok: false, reason: 'A whole number of days from 30 to 3650' };
};

const years = (text: string): Parsed<number> => {
  const n = Number(text.trim());
  return Number.isInteger(n) && n >= 1 && n <= 100
    ? { ok: true, value: n }
    : { ok: false, reason: 'A whole number of years from 1 to 100' };
};

/** Goods that a SKU pattern is shown with. */
const EXAMPLE = {
  sku: 'BW-010001',
  number: '010001',
  brand: 'Fellmoor',
  category: 'Torches',
  colour: 'Red',
  size: 'L',
};

/** Zones that the browser knows, by their IANA names. */
const ZONES: readonly string[] = [...new Set(['UTC', ...Intl.supportedValuesOf('timeZone')])];

/** The settings of the whole shop: name and papers, books, SKUs, own jobs, retention and storage. */
export function SettingsView() {
  const shop = useShop();
  const now = useNow(60_000);
  const id = useId();
  const booked = useFeed('hasBooks');
  if (!shop || booked === undefined || !now) return <Loading name="Settings" />;
  const { settings } = shop;
  const save = async (set: Partial<Omit<Settings, 'id'>>, name: string) => {
    const done = await theShop().saveSettings(set, name);
    await say(done.ok ? `${name}.` : done.reason, { undo: done.ok, wrong: !done.ok });
  };
  const books = booksYears(settings.zone);
  const keepOrders = async (orderYears: number) => {
    const keep = () => save({ orderYears }, 'Retention of orders changed');
    if (!books || orderYears >= books.years || orderYears >= (settings.orderYears ?? ORDER_YEARS))
      return keep();
    ask(
      `The books of ${books.country} are to be kept for ${books.years} years. Delete orders after ${orderYears}?`,
      'Delete them then',
      keep,
    );
  };
  const text = (field: 'shop' | 'slip' | 'contact' | 'sku', label: string, name: string, hint = '') => (
    <div>
      <TextField
        id={`${id}-${field}`}
        label={label}
        value={settings[field] ?? ''}
        onCommit={(value) => save({ [field]: value }, name)}
      />
      {hint && <p className="text-xs text-muted">{hint}</p>}
    </div>
  );
  return (
    <section className="min-w-0 grow overflow-auto">
      <Head name="Settings" state={settings.shop ? `of ${settings.shop}` : 'The shop has no name yet.'} />
      <div className="max-w-6xl gap-4 px-4 pb-8 lg:columns-2 *:mb-4 *:break-inside-avoid">
        <Panel title="The shop">
          {text('shop', 'Name on packing slips', 'Shop name changed')}
          {text('slip', 'Packing slip message', 'Packing slip message changed')}
          {text('contact', 'Contact on packing slips', 'Contact on packing slips changed')}
          <Choice
            label="Time zone"
            value={settings.zone}
            choices={ZONES}
            onChange={(zone) => save({ zone }, 'Time zone changed')}
          />
          <p className="text-xs text-muted">Days begin and times are shown in this zone.</p>
          {text(
            'sku',
            'SKU pattern',
            'SKU pattern changed',
            `{sku} is the supplier’s SKU, {number} what follows its first hyphen, {brand:3} the first three letters of the brand; {category} and options such as {colour} too. BW-010001 becomes ${skuBy(settings.sku, EXAMPLE)}. What is taken already keeps its SKU.`,
          )}
        </Panel>
        <Panel title="The books">
          {booked ? (
            <p className="text-[13.5px]">
              Kept in <b className="font-semibold">{settings.currency}</b>. Orders are on record: the currency
              stays.
            </p>
          ) : (
            <>
              <Choice
                label="Currency of the books"
                value={settings.currency}
                choices={CURRENCIES}
                onChange={(currency) => save({ currency }, 'Currency of the books changed')}
              />
              <p className="text-xs text-muted">It stays once the first order is on record.</p>
            </>
          )}
          <CostSettings key={`${settings.cushion} ${settings.costTax}`} settings={settings} onSave={save} />
          <p className="mt-1 text-xs text-muted">
            The cushion is added to costs in another currency when prices are worked out. Tax on cost is 0 %
            where it is reclaimed.
          </p>
        </Panel>
        <Panel title="Alerts">
          <AlertsPanel settings={settings} />
        </Panel>
        <Panel title="Tracking numbers of carriers">
          <ShapesPanel settings={settings} />
        </Panel>
        <RatesPanel shop={shop} now={now} />
        <Panel title="What runs by itself">
          <OwnJobs zone={settings.zone} now={now} />
        </Panel>
        <Panel title="Retention and storage">
          <AmountField
            label="History of changes, in days"
            value={settings.keepDays}
            write={(n) => String(n)}
            parse={days}
            onChange={(keepDays) => keepDays !== null && save({ keepDays }, 'Retention changed')}
          />
          <AmountField
            label="Orders and their accounts, in years"
            value={settings.orderYears ?? ORDER_YEARS}
            write={(n) => String(n)}
            parse={years}
            onChange={(orderYears) => orderYears !== null && keepOrders(orderYears)}
          />
          {books && (settings.orderYears ?? ORDER_YEARS) < books.years && (
            <p className="mt-1 text-xs text-lamp">
              The books of {books.country} are to be kept for {books.years} years.
            </p>
          )}
          <p className="mt-1 text-xs text-muted">
            Older changes, answered messages, and cost and stock history are deleted once a day; orders, with
            what is on record of them, once they are older than their years.
          </p>
          <Held />
        </Panel>
      </div>
    </section>
  );
}

/** The additions to suppliers' costs (cushion, tax), with their effect shown before they are saved. */
function CostSettings({
  settings,
  onSave,
}: {
  settings: Settings;
  onSave: (set: Partial<Omit<Settings, 'id'>>, name: string) => Promise<void>;
}) {
  const [draft, setDraft] = useState({ cushion: settings.cushion, costTax: settings.costTax });
  const changed = draft.cushion !== settings.cushion || draft.costTax !== settings.costTax;
  const ahead = useAhead(changed ? { settings: draft } : null);
  return (
    <>
      <div className="mt-2 flex flex-wrap gap-4">
        <AmountField
          label="Cushion on exchange rates"
          value={draft.cushion}
          write={(n) => formatRate(n)}
          parse={share}
          onChange={(cushion) => cushion !== null && setDraft({ ...draft, cushion })}
        />
        <AmountField
          label="Tax on cost, not reclaimed"
          value={draft.costTax}
          write={(n) => formatRate(n)}
          parse={share}
          onChange={(costTax) => costTax !== null && setDraft({ ...draft, costTax })}
        />
      </div>
      {changed && (
        <div className="mt-1">
          {ahead.view}
          <div className="mt-1 flex gap-2">
            <Button
              kind="main"
              {...ahead.save}
              onClick={() =>
                onSave(draft, draft.cushion === settings.cushion ? 'Tax on cost changed' : 'Cushion changed')
              }
            >
              {ahead.saves}
            </Button>
            <Button onClick={() => setDraft({ cushion: settings.cushion, costTax: settings.costTax })}>
              Cancel
            </Button>
          </div>
        </div>
      )}
    </>
  );
}

/** Jobs of the shop itself; those of connections are with these. */
function OwnJobs({ zone, now }: { zone: string; now: number }) {
  const jobs = useFeed('allJobs');
  const own = jobs?.filter((j) => j.subject === SHOP) ?? [];
  return <JobsTable jobs={own} zone={zone} now={now} />;
}

function Panel({ title, children }: { title: string; children: React.ReactNode }) {
  return (
    <section aria-label={title} className="rounded-sm border border-rule bg-surface p-4">
      <h2 className="pb-1 font-semibold">{title}</h2>
      {children}
    </section>
  );
}

/** How much room the shop takes in this browser, and of what. */
function Held() {
  const [storage, keep] = useStorage();
  const kinds = useAnswer(() => theShop().stored(), [storage?.bytes]);
  return (
    <div className="mt-3 border-t border-rule-soft pt-2 text-[13.5px]">
      <p>
        {storage?.bytes != null &&
          `${formatCount(Math.max(1, Math.round(storage.bytes / 1_000_000)))} MB in this browser. `}
        {storage?.kept ? (
          'Storage is persistent.'
        ) : (
          <button type="button" className="text-river underline" onClick={keep}>
            Make storage persistent
          </button>
        )}
      </p>
      {kinds && (
        <table className="mt-1 w-full text-[13px]">
          <caption className="sr-only">What is stored</caption>
          <thead className="text-xs text-muted">
            <tr>
              <th scope="col" className="text-left font-semibold">
                What is stored
              </th>
              <th scope="col" className="text-right font-semibold">
                Number
              </th>
              <th scope="col" className="text-right font-semibold">
                About MB
              </th>
            </tr>
          </thead>
          <tbody>
            {kinds.map(({ name, count, bytes }) => (
              <tr key={name} className="border-t border-rule-soft">
                <th scope="row" className="text-left font-normal">
                  {name}
                </th>
                <td className="text-right">{formatCount(count)}</td>
                <td className="text-right">{bytes < 50_000 ? '< 0.1' : (bytes / 1_000_000).toFixed(1)}</td>
              </tr>
            ))}
          </tbody>
        </table>
      )}
      <p className="mt-1 text-xs text-muted">As written by Sampan; the browser compresses most of it.</p>
    </div>
  );
}
