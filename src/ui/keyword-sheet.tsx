'use client';
import { useState } from 'react';
import { countOf, formatCount } from '../core/units';
import { theShop } from '../work/clients';
import { failureInWords } from '../work/failure';
import { useAnswer } from './answer';
import { Button } from './button';
import { ROWS } from './file-button';
import { Notice, Section } from './head';
import { say } from './said';
import { TextFileButton } from './text-file';

const LARGEST = 5_000_000;
/** Milliseconds of rest after which what was pasted is read. */
const REST = 150;
const SHOWN = 12;

/** A small table by product, pasted or read from a file; its columns become fields of copy templates. */
export function KeywordSheet() {
  const [text, setText] = useState('');
  const [busy, setBusy] = useState(false);
  const read = useAnswer(async () => (text.trim() ? await theShop().readSheet(text) : null), [text], REST);
  const take = async () => {
    setBusy(true);
    try {
      const { changed, sent } = await theShop().takeSheet(text);
      setText('');
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
      <label className="block text-[13px] text-muted">
        Paste a table: SKU or barcode, then a column for each field, such as Keyword
        <textarea
          rows={5}
          value={text}
          spellCheck={false}
          placeholder={'SKU\tKeyword\nDD-010255\theavy duty tripod'}
          onChange={(e) => setText(e.target.value)}
          className="mt-1 w-full rounded-sm border border-edge bg-surface px-1.5 py-1 font-mono text-[13px] text-ink"
        />
      </label>
      <div className="mt-1 flex items-center gap-2">
        <Button kind="main" disabled={busy || !sheet?.changes.length} onClick={take}>
          Keep {sheet?.changes.length ? formatCount(sheet.changes.length) : ''}
        </Button>
        <TextFileButton
          words="Read a file"
          name="Keyword sheet"
          accept={ROWS}
          onText={(read, file) =>
            file.size > LARGEST
              ? say(`“${file.name}” is larger than 5 MB. Split it.`, { wrong: true })
              : setText(read)
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
                    Line {r.line}, {r.key || 'empty'}: {r.reason}
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
