'use client';
import Papa from 'papaparse';
import { useState } from 'react';
import { countOf, formatCount } from '../core/units';
import { failureInWords } from '../work/context/failure';
import { theShop } from '../work/desk/client';
import { useAnswer } from './answer';
import { Button } from './button';
import { ROWS } from './file-button';
import { Notice, Section } from './head';
import { filledRows, type Rows, RowsTable } from './rows-table';
import { say } from './said';
import { TextFileButton } from './text-file';

const LARGEST = 5_000_000;
/** Milliseconds of rest after which what was typed is read. */
const REST = 150;
const SHOWN = 12;
/** Rows that are edited in place; of a larger sheet the file is edited. */
const MOST_EDITED = 200;
/** What the first column may be called: a row of such is a header. */
const KEY = /^(sku|barcode|gtin|ean|supplier sku|item)$/i;
const EMPTY: Table = { header: ['SKU', 'Keyword'], rows: [] };

interface Table {
  readonly header: readonly string[];
  readonly rows: Rows;
}

const tableOf = (text: string): Table => {
  const [header = [], ...rows] = Papa.parse<string[]>(text.replace(/^\uFEFF/, ''), {
    skipEmptyLines: 'greedy',
  }).data;
  return { header, rows };
};

/** A row of header names that was pasted with its table is its header. */
function withHeader({ header, rows }: Table): Table {
  const [first, ...others] = rows;
  if (!first || !KEY.test(first[0] ?? '')) return { header, rows };
  const names = first.map((name, c) => name.trim() || header[c] || '');
  return { header: names, rows: others };
}

/**
 * A small table by product, typed, pasted, or read from a file; its columns become fields of copy templates. What is kept can be
 * taken up again to be edited: there an emptied cell empties its field.
 */
export function KeywordSheet() {
  const [table, setTable] = useState(EMPTY);
  const [kept, setKept] = useState(false);
  const [name, setName] = useState('');
  const [busy, setBusy] = useState(false);
  const filled = filledRows(table.rows);
  const text = filled.length
    ? Papa.unparse([table.header, ...filled] as string[][], { delimiter: '\t' })
    : '';
  const read = useAnswer(
    async () => (text ? await theShop().readSheet(text, kept) : null),
    [text, kept],
    REST,
  );
  const begin = (from: Table, isKept = false) => {
    setTable(from);
    setKept(isKept);
  };
  const takeUp = async () => {
    const { header, rows, left } = await theShop().keptSheet(MOST_EDITED);
    if (!rows.length) return say('No product has keywords yet.', { wrong: true });
    begin({ header, rows }, true);
    if (left)
      await say(`${countOf(left, 'more product')} with keywords: edit those by a file.`, { wrong: true });
  };
  const addField = () => {
    const field = name.trim();
    if (!field || table.header.some((h) => h.toLowerCase() === field.toLowerCase())) return;
    setTable({ header: [...table.header, field], rows: table.rows.map((row) => [...row, '']) });
    setName('');
  };
  const take = async () => {
    setBusy(true);
    try {
      const { changed, sent } = await theShop().takeSheet(text, kept);
      begin(EMPTY);
      await say(
        `Keywords of ${countOf(changed, 'product')} are kept${sent ? `; ${countOf(sent, 'listing')} on the way to the marketplaces` : ''}.`,
        { undo: true },
      );
    } catch (error) {
      await say(failureInWords(error), { wrong: true });
    }
    setBusy(false);
  };
  const sheet = read?.ok ? read.sheet : null;
  return (
    <Section title="Keyword sheet">
      {filled.length > MOST_EDITED ? (
        <p className="text-[13px]">
          {countOf(filled.length, 'row')}, too many to edit here: edit the file and read it again.{' '}
          <Button kind="text" onClick={() => begin(EMPTY)}>
            Put it aside
          </Button>
        </p>
      ) : (
        <>
          <p className="text-[13px] text-muted">
            {kept
              ? 'A cell that you empty empties its field.'
              : 'A row for each product, found by SKU or barcode, and a column for each field. Paste it with its header row, or type.'}
          </p>
          <RowsTable
            label={kept ? 'Keywords that are kept' : 'Keywords'}
            columns={table.header.map((header, c) => ({
              name: header,
              example: c ? (c === 1 ? 'heavy duty tripod' : '') : 'DD-010255',
            }))}
            widens
            rows={table.rows}
            wrong={null}
            onChange={(rows) => setTable(withHeader({ header: table.header, rows }))}
          />
          <form
            className="mt-1 flex items-center gap-2"
            onSubmit={(e) => {
              e.preventDefault();
              addField();
            }}
          >
            <input
              aria-label="Name of another field"
              placeholder="Audience"
              value={name}
              maxLength={60}
              onChange={(e) => setName(e.target.value)}
              className="w-36 rounded-sm border border-edge bg-surface px-1.5 py-1 text-[13px]"
            />
            <Button type="submit" disabled={!name.trim()}>
              Add a field
            </Button>
          </form>
        </>
      )}
      <div className="mt-2 flex flex-wrap items-center gap-2">
        <Button kind="main" disabled={busy || !sheet?.changes.length} onClick={take}>
          Keep {sheet?.changes.length ? formatCount(sheet.changes.length) : ''}
        </Button>
        {!text && <Button onClick={takeUp}>Edit what is kept</Button>}
        <TextFileButton
          words="Read a file"
          name="Keyword sheet"
          accept={ROWS}
          onText={(read, file) =>
            file.size > LARGEST
              ? say(`“${file.name}” is larger than 5 MB. Split it.`, { wrong: true })
              : begin(withHeader(tableOf(read)))
          }
        />
      </div>
      {read && !read.ok && <Notice tone="loss">{read.reason}</Notice>}
      {sheet && (
        <>
          <p role="status" className="mt-2 text-[13.5px]">
            <b className="font-semibold">{countOf(sheet.changes.length, 'product')} would change</b>
            {sheet.unchanged > 0 && `, ${formatCount(sheet.unchanged)} stay as they are`}
            {sheet.refused.length > 0 && `, ${countOf(sheet.refused.length, 'row')} cannot be used`}. Fields:{' '}
            {sheet.columns.join(', ')}.
          </p>
          {sheet.refused.length > 0 && (
            <Notice>
              <ul>
                {sheet.refused.slice(0, SHOWN).map((r) => (
                  <li key={`${r.line} ${r.reason}`}>
                    {r.key || `Line ${r.line}`}: {r.reason}
                  </li>
                ))}
                {sheet.refused.length > SHOWN && (
                  <li>and {formatCount(sheet.refused.length - SHOWN)} more</li>
                )}
              </ul>
            </Notice>
          )}
          <ul className="mt-1 text-[13px]">
            {sheet.changes.slice(0, SHOWN).map((c) => (
              <li key={c.product} className="border-b border-rule-soft py-1">
                {c.title}
                {c.cells.map(([column, before, after]) => (
                  <span key={column} className="block text-xs">
                    {column}: {before && <s className="text-muted">{before}</s>} {after || 'nothing'}
                  </span>
                ))}
              </li>
            ))}
          </ul>
        </>
      )}
    </Section>
  );
}
