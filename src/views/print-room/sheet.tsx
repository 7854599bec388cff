'use client';
import Link from 'next/link';
import { useRouter } from 'next/navigation';
import { type KeyboardEvent, useMemo, useRef, useState } from 'react';
import { countOf } from '../../core/units';
import { useAddress } from '../../ui/address';
import { useFeed } from '../../ui/asked';
import { Button } from '../../ui/button';
import { WithDocket } from '../../ui/docket';
import { Empty, Head, NeedsYou } from '../../ui/head';
import { Loading } from '../../ui/loading';
import { Menu } from '../../ui/menu';
import { say } from '../../ui/said';
import { theShop } from '../../work/desk/client';
import type { SheetLine, WholeSheet } from '../../work/print/sheets';
import { AreaPicture } from './area-picture';
import { FilesDocket } from './files-docket';
import { SheetDocket } from './sheet-docket';
import { findingInShort } from './words';

/** Designs on one blank, all seen at once, those with warnings first. */
export function Sheet() {
  const { get } = useAddress();
  const id = get('id');
  const whole = useFeed('sheet', id);
  if (whole === undefined) return <Loading name="Sheet" />;
  if (whole === null)
    return (
      <section className="flex min-w-0 grow flex-col">
        <Head name="Sheet" state="It is not there any more." />
        <Empty title="This sheet is gone">
          <p>It was removed, or its maker has the blank no longer.</p>
          <Link href="/print-room" className="text-river underline">
            To the print room
          </Link>
        </Empty>
      </section>
    );
  return <Open whole={whole} />;
}

const WIDTHS = { small: 132, large: 214 } as const;

function Open({ whole }: { whole: WholeSheet }) {
  const { sheet, blank, lines, missing } = whole;
  const { get, set } = useAddress();
  const router = useRouter();
  const [files, setFiles] = useState(false);
  const colours = blank.colours.filter((c) => sheet.colours.includes(c.name));
  const colour = colours.find((c) => c.name === get('colour')) ?? colours[0] ?? blank.colours[0]!;
  const chosen = get('row');
  const line = lines.find((l) => l.design.id === chosen);
  const warned = lines.filter((l) => l.findings.length).length;
  const refused = lines.filter((l) => l.refused).length;
  const printed = blank.areas.filter((a) => sheet.plan[a.id] || lines.some((l) => l.plan[a.id]));
  const area = printed.find((a) => a.id === get('area')) ?? printed[0] ?? blank.areas[0]!;
  const width = lines.length > 60 ? WIDTHS.small : WIDTHS.large;
  const placing = (design: string) =>
    `/print-room/placing?sheet=${encodeURIComponent(sheet.id)}&area=${area.id}${design ? `&design=${design}` : ''}`;
  const docket = files ? (
    <FilesDocket whole={whole} onClose={() => setFiles(false)} />
  ) : line ? (
    <SheetDocket
      key={line.design.id}
      whole={whole}
      line={line}
      colour={colour}
      placing={placing(line.design.id)}
      onClose={() => set({ row: '' })}
    />
  ) : null;
  const remove = async () => {
    await theShop().removeSheet(sheet.id);
    await say(`The sheet ${sheet.name} is removed; its designs stay.`, { undo: true });
    router.push('/print-room');
  };
  return (
    <WithDocket docket={docket}>
      <section className="flex min-w-0 grow flex-col">
        <Head
          name={sheet.name}
          state={
            <>
              {countOf(lines.length, 'design')} on {blank.name}
              {warned > 0 && <>, {countOf(warned, 'design')} with a warning</>}
              {refused > 0 && (
                <>
                  , <NeedsYou>{refused} the maker would refuse</NeedsYou>
                </>
              )}
              {missing > 0 && `, ${countOf(missing, 'design')} not there any more`}.
            </>
          }
        >
          <Menu words="More" items={[{ name: 'Remove the sheet', run: () => void remove() }]} />
          <Button
            onClick={() => {
              set({ row: '' });
              setFiles(true);
            }}
            disabled={!lines.length}
          >
            Print files
          </Button>
          <Link
            href={placing('')}
            className="rounded-sm border border-edge px-2.5 py-1 text-[13px] font-semibold whitespace-nowrap text-river hover:bg-river-soft"
          >
            Place all by rule
          </Link>
          <Link
            href={`/print-room/products?sheet=${encodeURIComponent(sheet.id)}`}
            className="rounded-sm border border-river bg-river px-2.5 py-1 text-[13px] font-semibold whitespace-nowrap text-river-ink hover:brightness-110"
          >
            Products of {countOf(lines.length, 'design')}
          </Link>
        </Head>
        <div className="flex flex-wrap items-center gap-x-4 gap-y-1.5 px-4 pb-2 text-[13px]">
          <Link href="/print-room" className="text-river hover:underline">
            Print room
          </Link>
          {printed.length > 1 && (
            <label className="flex items-center gap-1.5">
              <span className="text-muted">Area</span>
              <select
                value={area.id}
                onChange={(e) => set({ area: e.target.value })}
                className="rounded-sm border border-edge bg-surface px-1 py-0.5"
              >
                {printed.map((a) => (
                  <option key={a.id} value={a.id}>
                    {a.name}
                  </option>
                ))}
              </select>
            </label>
          )}
          {blank.sizes.length > 1 && (
            <label className="flex items-center gap-1.5">
              <span className="text-muted">Placed in the size</span>
              <select
                value={sheet.size}
                onChange={(e) =>
                  void theShop().editSheet(
                    sheet.id,
                    { size: e.target.value },
                    `${sheet.name} placed in ${e.target.value}`,
                  )
                }
                className="rounded-sm border border-edge bg-surface px-1 py-0.5"
              >
                {blank.sizes.map((s) => (
                  <option key={s}>{s}</option>
                ))}
              </select>
            </label>
          )}
          <Colours whole={whole} chosen={colour.name} onChoose={(name) => set({ colour: name })} />
        </div>
        {lines.length === 0 ? (
          <Empty title="No design lies on this sheet">
            <p>Mark designs in the print room and place them here.</p>
            <Link href="/print-room" className="text-river underline">
              To the designs
            </Link>
          </Empty>
        ) : (
          <Cards
            lines={lines}
            width={width}
            chosen={chosen}
            onChoose={(row) => {
              setFiles(false);
              set({ row });
            }}
          >
            {(one) => (
              <AreaPicture
                area={area}
                size={sheet.size}
                plan={one.plan[area.id]}
                designs={[one.design]}
                ground={colour.hex}
                label={`${one.design.name} on ${blank.name}`}
                className={width === WIDTHS.large ? 'h-52' : 'h-32'}
              />
            )}
          </Cards>
        )}
      </section>
    </WithDocket>
  );
}

/** Colours of the blank: one is looked at, those that are ticked are checked and sold. */
function Colours({
  whole,
  chosen,
  onChoose,
}: {
  whole: WholeSheet;
  chosen: string;
  onChoose: (name: string) => void;
}) {
  const { sheet, blank } = whole;
  if (blank.colours.length < 2) return null;
  const turn = (name: string) => {
    const next = sheet.colours.includes(name)
      ? sheet.colours.filter((c) => c !== name)
      : blank.colours.map((c) => c.name).filter((c) => c === name || sheet.colours.includes(c));
    if (next.length) void theShop().editSheet(sheet.id, { colours: next }, `Colours of ${sheet.name}`);
  };
  return (
    <fieldset className="flex flex-wrap items-center gap-x-3 gap-y-1">
      <legend className="sr-only">Colours of the blank</legend>
      {blank.colours.map((c) => (
        <span key={c.name} className="flex min-h-7 items-center gap-1">
          <input
            type="checkbox"
            aria-label={`Sell ${c.name}`}
            title="Sold, and checked"
            checked={sheet.colours.includes(c.name)}
            onChange={() => turn(c.name)}
            className="size-3.5 accent-river"
          />
          <button
            type="button"
            aria-pressed={chosen === c.name}
            title={`See all on ${c.name}`}
            onClick={() => onChoose(c.name)}
            className={`flex items-center gap-1 rounded-sm px-1 ${chosen === c.name ? 'font-semibold underline' : ''}`}
          >
            <span
              aria-hidden
              className="size-3.5 rounded-full border border-edge"
              style={{ background: c.hex }}
            />
            {c.name}
          </button>
        </span>
      ))}
    </fieldset>
  );
}

/** Findings told in a card. */
const TOLD = 2;

function Cards({
  lines,
  width,
  chosen,
  onChoose,
  children,
}: {
  lines: readonly SheetLine[];
  width: number;
  chosen: string;
  onChoose: (id: string) => void;
  children: (line: SheetLine) => React.ReactNode;
}) {
  const box = useRef<HTMLUListElement>(null);
  const at = useMemo(
    () =>
      Math.max(
        0,
        lines.findIndex((l) => l.design.id === chosen),
      ),
    [lines, chosen],
  );
  const onKey = (e: KeyboardEvent) => {
    const all = [...(box.current?.querySelectorAll<HTMLButtonElement>('button[data-card]') ?? [])];
    const now = all.indexOf(document.activeElement as HTMLButtonElement);
    if (now < 0) return;
    const perRow = Math.max(
      1,
      all.findIndex((b) => b.offsetTop !== all[0]!.offsetTop),
    );
    const by = { ArrowRight: 1, ArrowLeft: -1, ArrowDown: perRow, ArrowUp: -perRow, j: 1, k: -1 }[e.key];
    if (by === undefined) return;
    e.preventDefault();
    const next = all[Math.min(all.length - 1, Math.max(0, now + by))]!;
    next.focus();
    if (chosen) next.click();
  };
  return (
    <ul
      ref={box}
      aria-label="Designs on the sheet"
      data-table
      tabIndex={-1}
      onKeyDown={onKey}
      className="grid min-h-0 grow content-start gap-3 overflow-auto border-t border-rule bg-ground p-4"
      style={{ gridTemplateColumns: `repeat(auto-fill, minmax(${width}px, 1fr))` }}
    >
      {lines.map((line, k) => {
        const { design, findings, mended } = line;
        return (
          <li key={design.id} className="[contain-intrinsic-size:240px] [content-visibility:auto]">
            <button
              type="button"
              data-card
              tabIndex={k === at ? 0 : -1}
              aria-pressed={design.id === chosen}
              onClick={() => onChoose(design.id)}
              className={`block w-full rounded-sm border bg-surface p-2 text-left ${design.id === chosen ? 'border-river ring-2 ring-river' : line.refused ? 'border-loss' : 'border-rule hover:border-edge'}`}
            >
              {children(line)}
              <span className="mt-1.5 block truncate text-[13px] font-semibold">{design.name}</span>
              <span className="block text-xs text-muted">{mended.length ? 'placed by hand' : 'by rule'}</span>
              {findings.slice(0, TOLD).map(({ area: a, finding }) => (
                <span key={`${a} ${JSON.stringify(finding)}`} className="block truncate text-xs text-lamp">
                  ◆ {findingInShort(finding)}
                </span>
              ))}
              {findings.length > TOLD && (
                <span className="block text-xs text-lamp">and {findings.length - TOLD} more</span>
              )}
            </button>
          </li>
        );
      })}
    </ul>
  );
}
