'use client';
import { type ReactNode, useCallback, useId, useMemo, useState } from 'react';
import { ownPicture } from '../core/checks';
import { countOf, formatCount } from '../core/units';
import { failureInWords } from '../work/context/failure';
import { theShop } from '../work/desk/client';
import type { Where } from '../work/desk/memory';
import type { PreviewInShort } from '../work/desk/stops/editing';
import type { BulkEdit, PreviewedChange } from '../work/editing/bulk-edit';
import { cellFieldsOf, type FieldId, fieldOf } from '../work/quoting/listing-cells';
import { aheadInWords } from './ahead';
import { useAnswer } from './answer';
import { Button } from './button';
import { Docket } from './docket';
import { Notice, Section } from './head';
import { useMarks } from './marks';
import { Picture } from './picture';
import { say } from './said';
import { useShop } from './shop';
import { type Column, Two } from './table/column';
import { DataTable } from './table/table';
import { Tabs } from './tabs';
import { TextField } from './text-field';
import { useWindow } from './window';

/** What can be done to many listings at once. */
const WAYS = {
  set: 'Set a field',
  replace: 'Find and replace',
  write: 'Propose texts',
  mend: 'Mend',
} as const;
type Way = keyof typeof WAYS;
const TABS = (Object.keys(WAYS) as Way[]).map((id) => ({ id, name: WAYS[id] }));

const WRITTEN = ['title', 'tags', 'description'] as const;

/** Milliseconds of rest after which what is typed is weighed. */
const REST = 200;

const FIELD_LOOK = 'w-full rounded-sm border border-edge bg-surface px-1.5 py-1 text-[13.5px]';

/**
 * Edits many listings at once: what is wanted, then what that would change row by row, then one change of it that can be
 * undone.
 */
export function EditDocket({
  where,
  count,
  onClose,
  onDone,
}: {
  where: Where;
  /** Rows that are meant. */
  count: number;
  onClose: () => void;
  onDone: () => void;
}) {
  const [way, setWay] = useState<Way>('set');
  const [field, setField] = useState<FieldId>('title');
  const [text, setText] = useState('');
  const [back, setBack] = useState(false);
  const [find, setFind] = useState('');
  const [put, setPut] = useState('');
  const [exact, setExact] = useState(false);
  const [written, setWritten] = useState<(typeof WRITTEN)[number]>('title');
  const id = useId();
  const edit = useMemo((): BulkEdit | null => {
    // Nothing is set before something is typed or chosen; going back is a choice of its own.
    if (way === 'set')
      return back ? { is: 'set', field, text: '' } : text.trim() ? { is: 'set', field, text } : null;
    if (way === 'replace') return find ? { is: 'replace', field, find, put, exact } : null;
    if (way === 'write') return { is: 'write', field: written };
    return { is: 'mend' };
  }, [way, field, text, back, find, put, exact, written]);
  const ask = useMemo(() => edit && (() => theShop().previewEdit(where, edit)), [where, edit]);
  const shop = useShop();
  if (!shop) return null;
  const replaceable = cellFieldsOf(shop).filter((f) => way !== 'replace' || TEXTS.has(f.id));
  return (
    <Docket label="Edit many" onClose={onClose}>
      <h2 className="text-base font-semibold">Edit {countOf(count, 'row')}</h2>
      <Tabs
        label="What to do"
        tabs={TABS}
        chosen={way}
        onChoose={(one) => {
          setWay(one);
          if (one === 'replace' && !TEXTS.has(field)) setField('title');
        }}
        className="mt-2"
        panelClass="mt-3 space-y-2"
      >
        {(way === 'set' || way === 'replace') && (
          <Labelled id={`${id}-field`} label="Field">
            <select
              id={`${id}-field`}
              value={field}
              onChange={(e) => {
                setField(e.target.value as FieldId);
                setText('');
              }}
              className={FIELD_LOOK}
            >
              {replaceable.map((f) => (
                <option key={f.id} value={f.id}>
                  {f.name}
                </option>
              ))}
            </select>
          </Labelled>
        )}
        {way === 'set' && (
          <>
            {!back && (
              <ValueField where={where} field={field} id={`${id}-text`} value={text} onChange={setText} />
            )}
            <label className="flex items-center gap-1.5 text-[13px]">
              <input
                type="checkbox"
                checked={back}
                onChange={(e) => setBack(e.target.checked)}
                className="accent-river"
              />
              Go back to where the value came from before it was typed
            </label>
          </>
        )}
        {way === 'replace' && (
          <>
            <Labelled id={`${id}-find`} label="Find">
              <input
                id={`${id}-find`}
                value={find}
                onChange={(e) => setFind(e.target.value)}
                className={FIELD_LOOK}
              />
            </Labelled>
            <Labelled id={`${id}-put`} label="Replace with">
              <input
                id={`${id}-put`}
                value={put}
                onChange={(e) => setPut(e.target.value)}
                className={FIELD_LOOK}
              />
            </Labelled>
            <label className="flex items-center gap-1.5 text-[13px]">
              <input
                type="checkbox"
                checked={exact}
                onChange={(e) => setExact(e.target.checked)}
                className="accent-river"
              />
              Match case
            </label>
          </>
        )}
        {way === 'write' && (
          <Labelled id={`${id}-written`} label="Text">
            <select
              id={`${id}-written`}
              value={written}
              onChange={(e) => setWritten(e.target.value as (typeof WRITTEN)[number])}
              className={FIELD_LOOK}
            >
              {WRITTEN.map((one) => (
                <option key={one} value={one}>
                  {fieldOf(one, shop).name}
                </option>
              ))}
            </select>
          </Labelled>
        )}
        {way === 'mend' && (
          <p className="text-[13px] text-muted">
            Shortens what is too long at a word, leaves out what the marketplace does not take, lowers
            capitals, takes links and scripts out of descriptions.
          </p>
        )}
      </Tabs>
      {ask && <Preview ask={ask} onDone={onDone} />}
    </Docket>
  );
}

/** A value for a field: picked where there are choices, else typed. */
function ValueField({
  where,
  field,
  id,
  value,
  onChange,
}: {
  where: Where;
  field: FieldId;
  id: string;
  value: string;
  onChange: (value: string) => void;
}) {
  const shop = useShop();
  const choices = useAnswer(() => theShop().choicesFor(where, field), [where, field]);
  if (!shop) return null;
  const { example } = fieldOf(field, shop);
  return choices?.length ? (
    <Labelled id={id} label="Value">
      <select id={id} value={value} onChange={(e) => onChange(e.target.value)} className={FIELD_LOOK}>
        <option value="">Choose</option>
        {choices.map((one) => (
          <option key={one} value={one}>
            {one}
          </option>
        ))}
      </select>
    </Labelled>
  ) : (
    <Labelled id={id} label={`Value, for example ${example}`}>
      <input id={id} value={value} onChange={(e) => onChange(e.target.value)} className={FIELD_LOOK} />
    </Labelled>
  );
}

/** Fields in which something can be looked for. */
const TEXTS: ReadonlySet<FieldId> = new Set(['title', 'description', 'brand', 'tags']);

function Labelled({ id, label, children }: { id: string; label: string; children: ReactNode }) {
  return (
    <div>
      <label htmlFor={id} className="block text-xs text-muted">
        {label}
      </label>
      {children}
    </div>
  );
}

const keyOf = (change: PreviewedChange) => change.key;

/** The changes an edit would make and the rows it leaves alone, worked out when typing pauses. @param ask must stay the same function while the question stays the same */
export function Preview({ ask, onDone }: { ask: () => Promise<PreviewInShort>; onDone: () => void }) {
  const answer = useAnswer(async () => ({ ask, weighed: await ask() }), [ask], REST);
  const [busy, setBusy] = useState(false);
  const weighed = answer?.weighed;
  if (!weighed)
    return (
      <p role="status" className="mt-3 text-[13.5px]">
        Weighing …
      </p>
    );
  return (
    <Changes
      key={weighed.id}
      weighed={weighed}
      busy={busy}
      stale={answer?.ask !== ask}
      onApply={async (except, own, agreed) => {
        setBusy(true);
        try {
          const done = await theShop().applyPreview(weighed.id, except, own, agreed);
          await say(
            `${weighed.name} in ${countOf(done.changed, 'field')}${done.sent ? `; ${countOf(done.sent, 'change')} on the way to the marketplaces` : ''}${done.lacking ? `; ${countOf(done.lacking, 'listing')} on sale lack something now and were not sent` : ''}.`,
            { undo: done.change !== null },
          );
          onDone();
        } catch (error) {
          await say(failureInWords(error), { wrong: true });
        }
        setBusy(false);
      }}
    />
  );
}

function Changes({
  weighed,
  busy,
  stale,
  onApply,
}: {
  weighed: PreviewInShort;
  busy: boolean;
  /** Something else is being weighed: what stands here is not what would be applied. */
  stale: boolean;
  /** @param own texts typed in place of what would stand there, by key */
  onApply: (except: readonly string[], own: ReadonlyMap<string, string>, agreed: boolean) => void;
}) {
  const shop = useShop();
  const [chosen, setChosen] = useState('');
  const [own, setOwn] = useState<ReadonlyMap<string, string>>(new Map());
  const question = useMemo(() => ({ id: weighed.id }), [weighed.id]);
  const list = useWindow(weighed.id, question, (q) => theShop().previewRows(q));
  const marks = useMarks(weighed.changes);
  const { markAll } = marks;
  const [agreed, setAgreed] = useState(false);
  const ahead = useAnswer(() => theShop().previewAhead(weighed.id), [weighed.id]);
  const [begun, setBegun] = useState(false);
  if (!begun) {
    setBegun(true);
    markAll();
  }
  const nameOf = useCallback((field: FieldId) => (shop ? fieldOf(field, shop).name : ''), [shop]);
  const columns = useMemo(() => columnsFor(own, nameOf), [own, nameOf]);
  const one = list.shown.find((c) => c.key === chosen);
  const telling = weighed.live > 0 && `${countOf(weighed.live, 'row')} on sale: the marketplaces are told.`;
  return (
    <>
      <p role="status" className="mt-3 text-[13.5px]">
        <b className="font-semibold">
          {stale ? 'Weighing …' : `${formatCount(weighed.changes)} would change`}
        </b>
        {weighed.unchanged > 0 &&
          `, ${formatCount(weighed.unchanged)} ${weighed.unchanged === 1 ? 'stays' : 'stay'} as ${weighed.unchanged === 1 ? 'it is' : 'they are'}`}
        {weighed.shared > 0 &&
          `, ${formatCount(weighed.shared)} ${weighed.shared === 1 ? 'has' : 'have'} it together with another row`}
        {weighed.nothing > 0 && `, in ${formatCount(weighed.nothing)} there is nothing to do`}
        {weighed.refused > 0 && `, ${formatCount(weighed.refused)} cannot be`}. {telling}
      </p>
      {ahead && <p className="text-[13px] text-muted">{aheadInWords(ahead)}</p>}
      <Refused rows={weighed.firstRefused} count={weighed.refused} nameOf={nameOf} />
      {weighed.asked > 0 && (
        <Notice>
          <ul>
            {weighed.firstAsked.map((c) => (
              <li key={c.key}>
                <span className="font-mono">{c.sku}</span> on {c.market}: {c.asks}
              </li>
            ))}
            {weighed.asked > weighed.firstAsked.length && (
              <li>and {formatCount(weighed.asked - weighed.firstAsked.length)} more</li>
            )}
          </ul>
          <label className="flex items-center gap-1.5">
            <input
              type="checkbox"
              checked={agreed}
              onChange={(e) => setAgreed(e.target.checked)}
              className="accent-river"
            />
            They are meant so; otherwise they stay as they are
          </label>
        </Notice>
      )}
      {weighed.changes > 0 && (
        <>
          <div className="mt-2 flex gap-2">
            <Button
              kind="main"
              disabled={busy || stale || !marks.size}
              onClick={() => onApply([...marks.except], own, agreed)}
            >
              {busy ? 'Applying …' : `Apply ${formatCount(marks.size)}`}
            </Button>
          </div>
          <div className="mt-2 flex h-[max(18rem,calc(100vh-26rem))] border border-rule">
            <DataTable
              id="preview"
              label="What would change"
              columns={columns}
              keyOf={keyOf}
              count={list.count}
              rowAt={list.rowAt}
              onRange={list.onRange}
              chosen={chosen}
              onChoose={setChosen}
              marks={marks}
            />
          </div>
          {one && (
            <Section title={`${one.sku} on ${one.market}`}>
              {one.field === 'pictures' && (
                <p className="my-1 flex flex-wrap gap-1.5">
                  {one.after
                    .split('\n')
                    .map(
                      (name) =>
                        ownPicture(name) && (
                          <Picture
                            key={name}
                            supplier=""
                            path={name}
                            alt={`As it would be: ${pictureInWords(name)}`}
                            size={64}
                          />
                        ),
                    )}
                </p>
              )}
              <TextField
                key={one.key}
                id="preview-text"
                label={`${shop ? fieldOf(one.field, shop).name : ''}, ${[...(own.get(one.key) ?? one.after)].length} characters`}
                area={one.after.length > 60}
                value={own.get(one.key) ?? one.after}
                onCommit={(text) => setOwn((before) => new Map(before).set(one.key, text))}
              />
              <p className="mt-1 text-[13px] text-muted">Now: {inWords(one, one.before) || 'nothing'}</p>
              {one.why && (
                <ul className="mt-1 list-disc pl-4 text-[13px]">
                  {one.why.map((reason) => (
                    <li key={reason}>{reason}</li>
                  ))}
                </ul>
              )}
            </Section>
          )}
        </>
      )}
    </>
  );
}

/** A text as people read it: pictures by their size or the last part of their address. */
const inWords = ({ field }: PreviewedChange, text: string): string =>
  field === 'pictures' ? text.split('\n').map(pictureInWords).join('; ') : text;

function pictureInWords(name: string): string {
  const own = ownPicture(name);
  return own ? `own, ${own.width} × ${own.height}` : name.slice(name.lastIndexOf('/') + 1);
}

/** Cells that cannot be as they were asked for, each by its listing and field. */
function Refused({
  rows,
  count,
  nameOf,
}: {
  rows: PreviewInShort['firstRefused'];
  count: number;
  nameOf: (field: FieldId) => string;
}) {
  if (!count) return null;
  return (
    <Notice>
      <ul>
        {rows.map((cell) => (
          <li key={`${cell.listing} ${cell.field}`}>
            <span className="font-mono">{cell.sku}</span> on {cell.market}, {nameOf(cell.field)}:{' '}
            {cell.reason}
          </li>
        ))}
        {count > rows.length && <li>and {formatCount(count - rows.length)} more</li>}
      </ul>
    </Notice>
  );
}

function columnsFor(
  own: ReadonlyMap<string, string>,
  nameOf: (field: FieldId) => string,
): Column<PreviewedChange>[] {
  return [
    {
      id: 'listing',
      header: 'Listing',
      size: 104,
      rank: 0,
      value: (c) => `${c.sku} ${c.market}`,
      cell: (c) => <Two top={<span className="font-mono">{c.sku}</span>} under={c.market} />,
    },
    {
      id: 'after',
      header: 'Field, before → after',
      size: 200,
      grows: true,
      rank: 0,
      value: (c) => own.get(c.key) ?? c.after,
      cell: (c) => {
        const after = own.get(c.key) ?? c.after;
        return (
          <span title={`${c.title}\n${c.before}\n→ ${after}`}>
            <Two
              top={nameOf(c.field)}
              under={
                <>
                  {inWords(c, c.before) || 'nothing'} →{' '}
                  <b className="font-semibold text-ink">{inWords(c, after) || 'nothing'}</b>
                </>
              }
            />
          </span>
        );
      },
    },
  ];
}
