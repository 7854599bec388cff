'use client';
import { proxy } from 'comlink';
import Link from 'next/link';
import { useRouter } from 'next/navigation';
import { useCallback, useMemo, useState } from 'react';
import { countOf, formatCount } from '../../core/units';
import { useAddress } from '../../ui/address';
import { useFeed } from '../../ui/asked';
import { Button } from '../../ui/button';
import { PageCommands } from '../../ui/commands';
import { WithDocket } from '../../ui/docket';
import { DropFile } from '../../ui/drop-file';
import { Empty, Head, Notice } from '../../ui/head';
import { useList } from '../../ui/list';
import { Loading } from '../../ui/loading';
import { useMarks } from '../../ui/marks';
import { say } from '../../ui/said';
import { SearchLine } from '../../ui/search-line';
import { DataTable } from '../../ui/table/table';
import { theShop } from '../../work/desk/client';
import type { DesignLine, DesignQuestion, DesignSort } from '../../work/print/design-list';
import type { AddedDesigns } from '../../work/print/designs';
import { DESIGN_COLUMNS } from './design-columns';
import { DesignDocket } from './design-docket';
import { PlaceMenu } from './place-menu';

const SORTS: readonly DesignSort[] = ['name', 'at', 'size', 'products'];
const TEXTS: readonly DesignSort[] = ['name'];
const FILES = '.png,.jpg,.jpeg,.webp,.svg,.zip,image/png,image/jpeg,image/webp,image/svg+xml';
const search = (q: DesignQuestion) => theShop().designs(q);
const keyOf = (d: DesignLine) => d.id;

/** The designs of the shop, and the blanks that they are placed on. */
export function PrintRoom() {
  const version = useFeed('designsVersion') ?? 0;
  const blanks = useFeed('blanks');
  const sheets = useFeed('sheets');
  const unread = useFeed('refusedBlanks') ?? [];
  const { get, set } = useAddress();
  const router = useRouter();
  const inSet = get('set');
  const more = useMemo(() => ({ set: inSet || null }), [inSet]);
  const list = useList({ version, sorts: SORTS, first: '-at', texts: TEXTS, more, search });
  const { found, asked, row } = list;
  const marks = useMarks(found?.matches ?? 0);
  const [taking, setTaking] = useState<{ done: number; of: number } | null>(null);
  const [came, setCame] = useState<AddedDesigns | null>(null);
  const between = useCallback(
    (from: number, to: number) =>
      theShop().designsBetween({ ...asked(), offset: from, limit: to - from + 1 }),
    [asked],
  );
  const meant = async (): Promise<string[]> => {
    if (!marks.all) return marks.keys();
    const all = await theShop().designsBetween({ ...asked(), offset: 0, limit: found?.matches ?? 0 });
    return all.filter((id) => !marks.except.has(id));
  };
  const add = async (files: readonly File[]) => {
    if (taking) return;
    setTaking({ done: 0, of: files.length });
    setCame(null);
    try {
      const named = files.map((file) => ({ name: (file as { path?: string }).path ?? file.name, file }));
      const got = await theShop().addDesigns(
        named,
        inSet,
        proxy((done: number) => setTaking({ done, of: Math.max(files.length, done) })),
      );
      setCame(got.refused.length || got.twins.length || got.alike.length ? got : null);
      await say(
        got.added.length
          ? `${countOf(got.added.length, 'design')} came in${got.stopped ? ', then it was stopped' : ''}.`
          : 'No new design came in.',
        { undo: got.added.length > 0 },
      );
    } finally {
      setTaking(null);
    }
  };
  const place = async (blank: string) => {
    const ids = await meant();
    const sheet = await theShop().makeSheet(blank, ids);
    marks.clear();
    if (sheet) router.push(`/print-room/sheet?id=${encodeURIComponent(sheet)}`);
  };
  const putOn = async (sheet: string) => {
    const n = await theShop().putOnSheet(sheet, await meant());
    await say(n ? `${countOf(n, 'design')} put on the sheet.` : 'They lie on it already.', { undo: n > 0 });
    router.push(`/print-room/sheet?id=${encodeURIComponent(sheet)}`);
  };
  const remove = async () => {
    const { gone, kept } = await theShop().removeDesigns(await meant());
    marks.clear();
    await say(
      `${countOf(gone, 'design')} taken out${kept ? `; ${countOf(kept, 'design')} on sheets stay` : ''}.`,
      { undo: gone > 0 },
    );
  };
  if (!found || !blanks || !sheets) return <Loading name="Print room" />;
  const printable = blanks.filter((b) => !b.gone);
  const drop = (
    <DropFile
      words="Choose designs"
      accept={FILES}
      looking={taking && `${formatCount(taking.done)} of ${formatCount(taking.of)}`}
      onFiles={(files) => void add(files)}
      onStop={() => void theShop().stopPrinting()}
      onWrong={(says) => void say(says, { wrong: true })}
    />
  );
  return (
    <WithDocket docket={row && <DesignDocket key={row} id={row} stamp={version} onClose={list.close} />}>
      <section
        className="flex min-w-0 grow flex-col"
        onPaste={(e) => {
          const files = [...e.clipboardData.files];
          if (files.length) void add(files);
        }}
      >
        <PageCommands
          commands={sheets.map((s) => ({
            name: `Open the sheet ${s.name}`,
            run: () => router.push(`/print-room/sheet?id=${encodeURIComponent(s.id)}`),
          }))}
        />
        <Head
          name="Print room"
          state={
            found.total
              ? `${countOf(found.total, 'design')}, ${countOf(sheets.length, 'sheet')}, ${countOf(printable.length, 'blank')} to print on.`
              : 'No designs yet.'
          }
        >
          {marks.size > 0 && (
            <Button onClick={() => void remove()}>Take out {formatCount(marks.size)}</Button>
          )}
          <PlaceMenu
            count={marks.size}
            blanks={printable}
            sheets={sheets}
            onBlank={(b) => void place(b)}
            onSheet={(s) => void putOn(s)}
          />
        </Head>
        {printable.length === 0 && (
          <div className="px-4">
            <Notice>
              No supplier that prints to order is connected.{' '}
              <Link href="/connections" className="text-river underline">
                Connect one
              </Link>
              : its blanks come with its catalogue.
            </Notice>
          </div>
        )}
        {unread.length > 0 && (
          <div className="shrink-0 px-4">
            <Notice>
              {countOf(unread.length, 'blank')} could not be read and {unread.length === 1 ? 'stays' : 'stay'}{' '}
              as before: {unread.slice(0, 4).join('; ')}
            </Notice>
          </div>
        )}
        {came && <Came came={came} onClose={() => setCame(null)} />}
        {sheets.length > 0 && (
          <nav aria-label="Sheets" className="flex shrink-0 gap-2 overflow-x-auto px-4 pb-2">
            {sheets.map((s) => (
              <Link
                key={s.id}
                href={`/print-room/sheet?id=${encodeURIComponent(s.id)}`}
                className="rounded-sm border border-rule bg-surface px-2.5 py-1 text-[13px] whitespace-nowrap hover:border-river"
              >
                <b className="font-semibold">{s.name}</b>{' '}
                <span className="text-muted">{countOf(s.designs, 'design')}</span>
              </Link>
            ))}
          </nav>
        )}
        {found.total === 0 ? (
          <Empty title="Begin with your designs">
            <p>
              PNG, JPEG, WebP or SVG, one by one, as a folder or in a zip. They are kept as they come, looked
              through, and then placed on blanks, many at a time.
            </p>
            {drop}
          </Empty>
        ) : (
          <>
            <div className="flex flex-wrap items-start gap-2 pr-4">
              <div className="min-w-0 grow basis-72">
                <SearchLine
                  {...list.line}
                  placeholder="a word of a name, a keyword, a set"
                  fields={[]}
                  matches={found.matches}
                />
              </div>
              {found.sets.length > 0 && (
                <select
                  aria-label="Set"
                  value={inSet}
                  onChange={(e) => set({ set: e.target.value })}
                  className="rounded-sm border border-edge bg-surface px-1.5 py-1 text-[13px]"
                >
                  <option value="">All sets</option>
                  {found.sets.map((s) => (
                    <option key={s.name} value={s.name}>
                      {s.name} ({s.count})
                    </option>
                  ))}
                </select>
              )}
            </div>
            <div className="px-4 pb-2">{drop}</div>
            {found.matches === 0 ? (
              <Empty title="Nothing matches">
                <p>No design of {formatCount(found.total)} has all of these words.</p>
                <Button onClick={() => list.setQuery('')}>Clear the search</Button>
              </Empty>
            ) : (
              <DataTable
                id="designs"
                label="Designs"
                columns={DESIGN_COLUMNS}
                keyOf={keyOf}
                {...list.table}
                marks={marks}
                keysBetween={between}
              />
            )}
          </>
        )}
      </section>
    </WithDocket>
  );
}

/** Told one by one. */
const FIRST = 8;

/** What of the files that came in was not taken, or is there twice. */
function Came({ came, onClose }: { came: AddedDesigns; onClose: () => void }) {
  const { refused, twins, alike } = came;
  return (
    <div className="max-h-48 shrink-0 overflow-auto px-4">
      <Notice tone={refused.length ? 'person' : 'plain'}>
        {refused.length > 0 && (
          <>
            <b className="font-semibold">{countOf(refused.length, 'file')} not taken</b>
            <ul className="list-disc pl-5">
              {refused.slice(0, FIRST).map((says) => (
                <li key={says}>{says}</li>
              ))}
              {refused.length > FIRST && <li>and {formatCount(refused.length - FIRST)} more.</li>}
            </ul>
          </>
        )}
        {twins.length > 0 && (
          <p>
            {countOf(twins.length, 'file')} here already, byte for byte: {twins.slice(0, FIRST).join(', ')}
            {twins.length > FIRST && ' …'}
          </p>
        )}
        {alike.length > 0 && (
          <p>
            Look alike:{' '}
            {alike
              .slice(0, FIRST)
              .map((a) => `${a.name} and ${a.like}`)
              .join('; ')}
            {alike.length > FIRST && ' …'}. Both were taken.
          </p>
        )}
        <Button kind="text" onClick={onClose}>
          Close
        </Button>
      </Notice>
    </div>
  );
}
