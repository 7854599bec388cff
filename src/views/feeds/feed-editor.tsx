'use client';
import Link from 'next/link';
import { useId, useState } from 'react';
import { fieldKey } from '../../core/copy';
import {
  ESCAPES,
  FEED_FORMATS,
  type FeedForm,
  type FeedFormat,
  formProblems,
  startingForm,
  TEMPLATE_PARTS,
  usualColumns,
} from '../../core/feeds';
import { formatMinor, parseMinor } from '../../core/money';
import { countOf, formatCount, spanOf, whenOf } from '../../core/units';
import { AmountField } from '../../ui/amount-field';
import { useAnswer } from '../../ui/answer';
import { Button } from '../../ui/button';
import { downloadFile } from '../../ui/download';
import { Head, Notice, Section } from '../../ui/head';
import { JobsTable } from '../../ui/jobs-table';
import { useKeptDraft } from '../../ui/kept';
import { localZone } from '../../ui/local-zone';
import { RowsTable } from '../../ui/rows-table';
import { ask, say } from '../../ui/said';
import { useListingsVersion } from '../../ui/versions';
import { theShop } from '../../work/desk/client';
import type { FeedLine, FeedLook, LookedAt } from '../../work/feeds/list';
import type { FeedDraft } from '../../work/feeds/save';
import { marketOf, marketsOf, type ShopTerms } from '../../work/quoting/worth';
import { FeedColumns } from './feed-columns';
import { TemplateField } from './template-field';
import { bytesInWords, ESCAPE_WORDS, FORMATS } from './words';

const LOOK = 'w-full rounded-sm border border-edge bg-surface px-1.5 py-1 text-[13.5px]';

/** Whether what was kept of a draft is one. */
const isDraft = (value: unknown): value is FeedDraft => {
  const v = value as FeedDraft | null;
  return (
    typeof v?.name === 'string' &&
    FEED_FORMATS.includes(v.form?.format) &&
    Array.isArray(v.form.columns) &&
    typeof v.form.template?.row === 'string'
  );
};

/** A feed as it is worked on, beside what would go out; below, where it is served and when it is made. */
export function FeedEditor({
  line,
  shop,
  version,
  now,
  onClose,
}: {
  line: FeedLine | null;
  shop: ShopTerms;
  version: number;
  now: number;
  /** @param id the feed that is shown next; null for the list */
  onClose: (id: string | null) => void;
}) {
  const feed = line?.feed ?? null;
  const markets = marketsOf(shop);
  const saved: FeedDraft = feed
    ? {
        ...{ name: feed.name, market: feed.market, group: feed.group, form: feed.form },
        ...{ mark: feed.mark, shipping: feed.shipping },
      }
    : {
        ...{ name: '', market: markets[0]?.id ?? '', group: null, form: startingForm() },
        ...{ mark: null, shipping: null },
      };
  const { draft, changed, set, drop } = useKeptDraft(`feed:${feed?.id ?? 'new'}`, saved, isDraft);
  const [refused, setRefused] = useState<string | null>(null);
  const text = JSON.stringify(draft);
  const listings = useListingsVersion();
  const looked = useAnswer<LookedAt>(
    async () => theShop().lookAtFeed(feed?.id ?? null, draft),
    // Jobs that run change nothing of what would go out.
    [text, listings, feed?.id, line?.made?.at],
    250,
  );
  const look = looked?.ok ? looked.look : null;
  const problems = formProblems(draft.form);
  const save = async () => {
    const done = await theShop().saveFeed(feed?.id ?? null, draft);
    if (!done.ok) return setRefused(done.reason);
    drop();
    setRefused(null);
    onClose(done.id);
    await say(`Feed “${draft.name.trim()}” saved. “Make live” puts it at its address.`, { undo: true });
  };
  return (
    <section className="flex min-w-0 grow flex-col overflow-auto">
      <Head name={feed ? feed.name : 'New feed'} state={stateOf(looked, look)}>
        <Button kind="text" onClick={() => onClose(null)}>
          All feeds
        </Button>
        {changed && <Button onClick={drop}>Discard changes</Button>}
        <Button kind={changed ? 'main' : 'quiet'} disabled={!changed || !draft.name.trim()} onClick={save}>
          Save feed
        </Button>
        {line && <LiveButton line={line} changed={changed} />}
      </Head>
      <div className="grid grow gap-x-6 gap-y-2 px-4 pb-6 lg:grid-cols-[minmax(0,1fr)_minmax(0,1fr)]">
        <div>
          {refused && <Notice tone="loss">{refused}</Notice>}
          {problems.length > 0 && (
            <Notice tone="person">
              <ul>
                {problems.slice(0, 6).map((p) => (
                  <li key={p}>{p}</li>
                ))}
              </ul>
            </Notice>
          )}
          {line && <Live line={line} version={version} now={now} shop={shop} onGone={() => onClose(null)} />}
          <Settings draft={draft} shop={shop} onChange={set} isNew={feed === null} />
          {draft.form.format === 'template' ? (
            <OwnTemplate form={draft.form} look={look} onChange={(form) => set({ ...draft, form })} />
          ) : (
            <Section title="Columns">
              <FeedColumns
                columns={draft.form.columns}
                fields={
                  look?.fields.filter((f) => !f.means.startsWith('in header')).map((f) => f.field) ?? []
                }
                onChange={(columns) => set({ ...draft, form: { ...draft.form, columns } })}
              />
            </Section>
          )}
          <Addresses draft={draft} look={look} onChange={set} />
        </div>
        <div>{look && <Look look={look} />}</div>
      </div>
    </section>
  );
}

function stateOf(looked: LookedAt | undefined, look: FeedLook | null): string {
  if (!looked) return 'Looking …';
  if (!look) return looked.ok ? '' : looked.reason;
  return `${countOf(look.rows, 'product')}, ${bytesInWords(look.bytes)}${look.leftOut ? `; ${formatCount(look.leftOut)} left out` : ''}${look.amiss ? `; ${formatCount(look.amiss)} with something amiss` : ''}.`;
}

/** Makes a feed live; asks where it would shrink a lot. */
function LiveButton({ line, changed }: { line: FeedLine; changed: boolean }) {
  const [busy, setBusy] = useState(false);
  const run = async (sure: boolean) => {
    setBusy(true);
    try {
      const done = await theShop().makeFeedLive(line.feed.id, sure);
      if (done.asks) ask(done.says, 'Make it live all the same', () => run(true));
      else await say(done.ok ? `Live: ${done.says}.` : done.says, { wrong: !done.ok });
    } finally {
      setBusy(false);
    }
  };
  return (
    <Button kind={changed ? 'quiet' : 'main'} disabled={busy || changed} onClick={() => run(false)}>
      {busy ? 'Making …' : 'Make live'}
    </Button>
  );
}

/** Where a feed is served, what of it, who fetched it, and when it is made again. */
function Live({
  line,
  version,
  now,
  shop,
  onGone,
}: {
  line: FeedLine;
  version: number;
  now: number;
  shop: ShopTerms;
  onGone: () => void;
}) {
  const { feed, made, job, path } = line;
  const served = useAnswer(() => theShop().servedFeed(feed.id), [feed.id, version, Math.floor(now / 60_000)]);
  const address = typeof window === 'undefined' ? path : `${window.location.origin}${path}`;
  const file = async () => {
    const got = await theShop().feedFile(feed.id);
    if (!got.ok) return say(got.reason, { wrong: true });
    downloadFile(got.name, got.file);
  };
  const remove = async () => {
    const done = await theShop().dropFeed(feed.id);
    if (!done.ok) return say(done.reason, { wrong: true });
    onGone();
    await say(`Feed “${feed.name}” removed; its address answers no more.`, { undo: true });
  };
  return (
    <Section title="At its address">
      <p className="font-mono text-[12.5px] break-all">{address}</p>
      <p className="mt-1 flex flex-wrap gap-x-2">
        <Button
          kind="text"
          className="-ml-1.5"
          onClick={async () => {
            await navigator.clipboard.writeText(address);
            await say('Address copied.');
          }}
        >
          Copy address
        </Button>
        <Button kind="text" onClick={file}>
          Save as a file
        </Button>
        <Button
          kind="text"
          onClick={() =>
            ask(
              'The address of now stops to answer: whoever fetches this feed needs the new one.',
              'Give it another address',
              async () => {
                const done = await theShop().renewSecret(feed.id);
                await say(done.ok ? 'It has another address. Make it live there.' : done.reason, {
                  wrong: !done.ok,
                });
              },
            )
          }
        >
          Another address
        </Button>
        <Button kind="text" onClick={remove}>
          Remove feed
        </Button>
      </p>
      <p className="text-[13.5px]">
        {made && served ? (
          <>
            Served: {countOf(made.rows, 'product')}, {bytesInWords(served.bytes)}, made{' '}
            {spanOf(Math.max(0, now - Date.parse(served.made)))} ago in {formatCount(made.took)} ms
            {made.fresh + made.changed + made.gone > 0 &&
              `; against the one before ${formatCount(made.fresh)} new, ${formatCount(made.changed)} changed, ${formatCount(made.gone)} gone`}
            .
          </>
        ) : (
          <span className="text-lamp">Nothing is served yet.</span>
        )}
      </p>
      {served && (
        <p className="text-xs text-muted">
          {served.fetched.length
            ? `Fetched last ${whenOf(Date.parse(served.fetched[0]!.at), now, localZone())} by ${served.fetched[0]!.agent} (${served.fetched[0]!.status}); ${countOf(served.fetched.length, 'request')} on record since the server began.`
            : 'Nobody fetched it since the server began.'}
        </p>
      )}
      {job && <JobsTable jobs={[job]} zone={shop.settings.zone} now={now} />}
      <p className="mt-1 text-xs text-muted">
        It is made while a tab of Sampan is open. While none is, the last one is served and tells its age.
      </p>
    </Section>
  );
}

function Settings({
  draft,
  shop,
  onChange,
  isNew,
}: {
  draft: FeedDraft;
  shop: ShopTerms;
  onChange: (draft: FeedDraft) => void;
  isNew: boolean;
}) {
  const ids = useId();
  const { form } = draft;
  const put = (next: Partial<FeedForm>) => onChange({ ...draft, form: { ...form, ...next } });
  const field = (id: string, label: string, control: React.ReactNode) => (
    <div>
      <label htmlFor={`${ids}-${id}`} className="block text-xs text-muted">
        {label}
      </label>
      {control}
    </div>
  );
  /** Columns that nobody changed become those of the new format. */
  const format = (next: FeedFormat) =>
    put({
      format: next,
      ...(JSON.stringify(form.columns) === JSON.stringify(usualColumns(form.format)) && {
        columns: usualColumns(next),
      }),
    });
  const currency = marketOf(shop, draft.market)?.site.currency ?? shop.settings.currency;
  return (
    <Section title="What it tells">
      <div className="grid gap-x-3 gap-y-1.5 sm:grid-cols-2">
        {field(
          'name',
          'Name',
          <input
            id={`${ids}-name`}
            className={LOOK}
            value={draft.name}
            maxLength={80}
            onChange={(e) => onChange({ ...draft, name: e.target.value })}
          />,
        )}
        {field(
          'market',
          'Marketplace',
          <select
            id={`${ids}-market`}
            className={LOOK}
            value={draft.market}
            onChange={(e) => onChange({ ...draft, market: e.target.value })}
          >
            {marketsOf(shop).map((m) => (
              <option key={m.id} value={m.id}>
                {m.name}
              </option>
            ))}
          </select>,
        )}
        {field(
          'group',
          'Products',
          <select
            id={`${ids}-group`}
            className={LOOK}
            value={draft.group ?? ''}
            onChange={(e) => onChange({ ...draft, group: e.target.value || null })}
          >
            <option value="">All that are on sale there</option>
            {shop.groups?.map((g) => (
              <option key={g.id} value={g.id}>
                {g.name}
              </option>
            ))}
          </select>,
        )}
        {field(
          'format',
          'Format',
          <select
            id={`${ids}-format`}
            className={LOOK}
            value={form.format}
            onChange={(e) => format(e.target.value as FeedFormat)}
          >
            {FEED_FORMATS.map((one) => (
              <option key={one} value={one}>
                {FORMATS[one]}
              </option>
            ))}
          </select>,
        )}
        {form.format === 'csv' &&
          field(
            'delimiter',
            'Delimiter',
            <select
              id={`${ids}-delimiter`}
              className={LOOK}
              value={form.delimiter}
              onChange={(e) => put({ delimiter: e.target.value as FeedForm['delimiter'] })}
            >
              <option value=",">Comma</option>
              <option value=";">Semicolon</option>
              <option value="|">Vertical bar</option>
            </select>,
          )}
        {field(
          'variants',
          'Variants of a product',
          <select
            id={`${ids}-variants`}
            className={LOOK}
            value={form.variants}
            onChange={(e) => put({ variants: e.target.value as FeedForm['variants'] })}
          >
            <option value="each">each by itself</option>
            <option value="together">together as one product</option>
          </select>,
        )}
        {form.format === 'template' &&
          field(
            'escape',
            'Values are written',
            <select
              id={`${ids}-escape`}
              className={LOOK}
              value={form.escape}
              onChange={(e) => put({ escape: e.target.value as FeedForm['escape'] })}
            >
              {ESCAPES.map((one) => (
                <option key={one} value={one}>
                  {ESCAPE_WORDS[one]}
                </option>
              ))}
            </select>,
          )}
        <AmountField
          label={`Buyers pay for shipping, ${currency}`}
          value={draft.shipping}
          optional
          placeholder="not told"
          write={(minor) => formatMinor(minor, currency)}
          parse={(typed) => parseMinor(typed, currency)}
          onChange={(shipping) => onChange({ ...draft, shipping })}
        />
      </div>
      <label className="mt-1.5 flex min-h-6 items-center gap-1.5 text-[13.5px]">
        <input
          type="checkbox"
          className="accent-river"
          checked={form.soldOut}
          onChange={(e) => put({ soldOut: e.target.checked })}
        />
        What is out of stock goes in, too, marked as such
      </label>
      {isNew && (
        <p className="text-xs text-muted">
          It tells what buyers see: prices and quantities as they were published.
        </p>
      )}
    </Section>
  );
}

function OwnTemplate({
  form,
  look,
  onChange,
}: {
  form: FeedForm;
  look: FeedLook | null;
  onChange: (form: FeedForm) => void;
}) {
  const fields = look?.fields.map((f) => f.field) ?? [];
  return (
    <Section title="Template, in Mustache">
      {TEMPLATE_PARTS.map(([part, name]) => (
        <TemplateField
          key={part}
          label={
            part === 'row' ? 'For each product' : part === 'header' ? 'Before the products' : 'Behind them'
          }
          name={name}
          value={form.template[part]}
          rows={part === 'row' ? 5 : 2}
          fields={fields}
          onChange={(text) => onChange({ ...form, template: { ...form.template, [part]: text } })}
        />
      ))}
    </Section>
  );
}

/** The addresses of pages and pictures, the mark, the target's categories. */
function Addresses({
  draft,
  look,
  onChange,
}: {
  draft: FeedDraft;
  look: FeedLook | null;
  onChange: (draft: FeedDraft) => void;
}) {
  const { form, mark } = draft;
  const fields = look?.fields.map((f) => f.field) ?? [];
  const put = (next: Partial<FeedForm>) => onChange({ ...draft, form: { ...form, ...next } });
  const marked = (next: Partial<NonNullable<FeedDraft['mark']>>) => {
    const own = { parameter: 'via', value: '', ...mark, ...next };
    onChange({ ...draft, mark: own.value ? own : null });
  };
  const [rows, setRows] = useState(() => Object.entries(form.categories));
  return (
    <>
      <Section title="Addresses and mark">
        <TemplateField
          label="Pages: a pattern; empty for the marketplace’s own"
          name="The address of pages"
          value={form.page}
          rows={1}
          fields={fields}
          onChange={(page) => put({ page })}
        />
        <TemplateField
          label="Pictures: a pattern, such as https://pictures.example{{{picture path}}}; empty for the supplier’s"
          name="The address of pictures"
          value={form.picture}
          rows={1}
          fields={fields}
          onChange={(picture) => put({ picture })}
        />
        <div className="flex gap-3">
          <label className="block grow text-xs text-muted">
            Mark in the addresses of pages
            <input
              className={`${LOOK} font-mono`}
              value={mark?.value ?? ''}
              placeholder="lantern-list"
              onChange={(e) => marked({ value: e.target.value.trim() })}
            />
          </label>
          <label className="block text-xs text-muted">
            As the parameter
            <input
              className={`${LOOK} font-mono`}
              value={mark?.parameter ?? 'via'}
              disabled={!mark}
              onChange={(e) => marked({ parameter: e.target.value.trim() })}
            />
          </label>
        </div>
        <p className="text-xs text-muted">
          Orders that a marketplace tells with this mark are counted for the feed.
        </p>
      </Section>
      <Section title="Categories of the target">
        <RowsTable
          label="What the target calls our categories"
          columns={[
            { name: 'Ours', example: 'Lamps' },
            { name: 'The target’s', example: '1284' },
          ]}
          rows={rows}
          wrong={null}
          onChange={(next) => {
            setRows(next as [string, string][]);
            put({
              categories: Object.fromEntries(
                next.flatMap(([ours = '', theirs = '']) =>
                  ours.trim() && theirs.trim() ? [[fieldKey(ours), theirs.trim()]] : [],
                ),
              ),
            });
          }}
        />
        <p className="text-xs text-muted">They stand in the field “target category”.</p>
      </Section>
    </>
  );
}

/** What would go out: what is left out and why, what changed, the beginning of the file, the fields there are. */
function Look({ look }: { look: FeedLook }) {
  return (
    <>
      {look.reasons.length > 0 && (
        <Section title="What is amiss">
          <table className="w-full text-[13.5px]">
            <caption className="sr-only">Reasons</caption>
            <tbody>
              {look.reasons.map((r) => (
                <tr key={r.says} className="border-t border-rule-soft">
                  <th scope="row" className={`py-0.5 pr-3 text-left font-normal ${r.out ? 'text-loss' : ''}`}>
                    {r.says}
                    {r.out && ': left out'}
                  </th>
                  <td className="text-right">{formatCount(r.count)}</td>
                </tr>
              ))}
            </tbody>
          </table>
          <details className="mt-1 text-[13.5px]">
            <summary className="min-h-6 cursor-pointer text-river">
              {countOf(look.faults.length, 'product')}, one by one
            </summary>
            <ul className="max-h-72 overflow-auto">
              {look.faults.map((f) => (
                <li key={f.listing} className="border-t border-rule-soft py-1">
                  <Link
                    href={`/listings?row=${encodeURIComponent(f.listing)}`}
                    className="text-river hover:underline"
                  >
                    {f.title || f.id}
                  </Link>{' '}
                  <span className="font-mono text-xs text-muted">{f.id}</span>
                  <span className="block text-xs">
                    {f.out && <b className="text-loss">Left out. </b>}
                    {f.says} {f.mend}
                  </span>
                </li>
              ))}
            </ul>
          </details>
        </Section>
      )}
      {look.compared && (
        <Section title="Since the last one">
          <p className="text-[13.5px]">
            {formatCount(look.fresh)} new, {formatCount(look.changed)} changed, {formatCount(look.gone)} gone
            {look.gone > 0 &&
              `: ${look.firstGone.join(', ')}${look.gone > look.firstGone.length ? ' …' : ''}`}
            .
          </p>
        </Section>
      )}
      <Section title="The beginning of the file">
        <section
          // biome-ignore lint/a11y/noNoninteractiveTabindex: what scrolls is reached by the keyboard
          tabIndex={0}
          aria-label="The beginning of the file"
          className="max-h-80 overflow-auto rounded-sm border border-rule bg-surface p-2"
        >
          <pre className="text-[12px] whitespace-pre-wrap break-words">{look.head}</pre>
        </section>
      </Section>
      <Section title="Fields">
        <table className="w-full text-[12.5px]">
          <caption className="sr-only">Fields, what they mean, and what the first product has there</caption>
          <tbody>
            {look.fields.map((f) => (
              <tr key={f.field} className="border-t border-rule-soft align-baseline">
                <th scope="row" className="py-0.5 pr-2 text-left font-normal">
                  <button
                    type="button"
                    className="min-h-6 text-left font-mono text-river hover:underline"
                    title="Copy"
                    onClick={async () => {
                      await navigator.clipboard.writeText(`{{${f.field}}}`);
                      await say(`{{${f.field}}} copied.`);
                    }}
                  >
                    {f.field}
                  </button>
                </th>
                <td className="pr-2 text-muted">{f.means}</td>
                <td className="max-w-40 truncate">{f.value.slice(0, 60)}</td>
              </tr>
            ))}
          </tbody>
        </table>
      </Section>
    </>
  );
}
