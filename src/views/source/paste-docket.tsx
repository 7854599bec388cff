'use client';
import { useState } from 'react';
import { formatMinor } from '../../core/money';
import { countOf } from '../../core/units';
import { Button } from '../../ui/button';
import { Docket } from '../../ui/docket';
import { Section } from '../../ui/head';
import { say } from '../../ui/said';
import { StateMark } from '../../ui/state-mark';
import type { PastedLine } from '../../work/catalogue/source-rows';
import { theShop } from '../../work/desk/client';

const LARGEST_FILE = 2_000_000;
const TONES = { found: 'well', several: 'person', taken: 'waits', unknown: 'loss' } as const;
const WORDS = { found: 'Found', several: 'Choose', taken: 'Taken already', unknown: 'Not found' } as const;

/**
 * Brings in goods from pasted lines: links, SKUs and barcodes, mixed, one to a line; each line is answered.
 */
export function PasteDocket({
  market,
  onClose,
}: {
  market: { readonly id: string; readonly name: string };
  onClose: () => void;
}) {
  const [text, setText] = useState('');
  const [answer, setAnswer] = useState<{ lines: PastedLine[]; left: number } | null>(null);
  const [chosen, setChosen] = useState<Readonly<Record<number, string>>>({});
  const look = async (given = text) => {
    setAnswer(await theShop().findLines(given));
    setChosen({});
  };
  const pick = async (file: File | undefined) => {
    if (!file) return;
    if (file.size > LARGEST_FILE)
      return say(`“${file.name}” is too large for a list of lines. Read it as a price list instead.`, {
        wrong: true,
      });
    const given = await file.text();
    setText(given);
    await look(given);
  };
  const keys = [
    ...new Set(
      answer?.lines.flatMap((l) =>
        l.state === 'found'
          ? [l.choices[0]!.key]
          : l.state === 'several' && chosen[l.line]
            ? [chosen[l.line]!]
            : [],
      ) ?? [],
    ),
  ];
  const take = async () => {
    const { products, listings } = await theShop().take({ keys }, market.id);
    await say(`${countOf(listings, 'item')} went to the Bench as ${countOf(products, 'product')}.`, {
      undo: true,
    });
    await look();
  };
  const count = (state: PastedLine['state']) => answer?.lines.filter((l) => l.state === state).length ?? 0;
  return (
    <Docket label="Take by pasted lines" onClose={onClose}>
      <h2 className="text-base font-semibold">Take by pasted lines</h2>
      <label className="mt-1 block text-[13px] text-muted">
        Links, SKUs or barcodes, one to a line
        <textarea
          rows={6}
          value={text}
          onChange={(e) => setText(e.target.value)}
          spellCheck={false}
          className="mt-1 w-full rounded-sm border border-edge bg-surface px-1.5 py-1 font-mono text-[13px] text-ink"
        />
      </label>
      <div className="mt-1.5 flex items-center gap-2">
        <Button kind={answer ? 'quiet' : 'main'} disabled={!text.trim()} onClick={() => look()}>
          Look up
        </Button>
        <label className="cursor-pointer text-[13px] font-semibold text-river hover:underline has-focus-visible:outline-2">
          or from a file
          <input
            type="file"
            accept=".txt,.csv,.tsv"
            className="sr-only"
            onChange={(e) => pick(e.target.files?.[0])}
          />
        </label>
      </div>
      {answer && (
        <Section
          title={`${countOf(answer.lines.length, 'line')}: ${count('found')} found, ${count('several')} to choose, ${count('taken')} taken already, ${count('unknown')} not found`}
        >
          {answer.left > 0 && (
            <p className="text-[13px] text-lamp">
              Only the first {answer.lines.length} lines were looked up; {answer.left} are left.
            </p>
          )}
          <div className="my-2">
            <Button kind="main" disabled={!keys.length} onClick={take}>
              Take {keys.length || ''} to the Bench
            </Button>
          </div>
          <ol className="text-[13px]">
            {answer.lines.slice(0, 500).map((l) => (
              <li key={l.line} className="border-b border-rule-soft py-1.5">
                <div className="flex items-baseline gap-2">
                  <span className="w-7 text-right text-xs text-muted">{l.line}</span>
                  <span className="min-w-0 grow truncate font-mono" title={l.text}>
                    {l.text}
                  </span>
                  <StateMark tone={TONES[l.state]}>{WORDS[l.state]}</StateMark>
                </div>
                <div className="pl-9 text-xs text-muted">
                  {l.choices.length === 1 ? `${l.choices[0]!.title} · ${l.choices[0]!.supplier}. ` : ''}
                  {l.says}
                  {l.state === 'several' && (
                    <fieldset className="mt-1 space-y-0.5 text-ink" aria-label={`Items for line ${l.line}`}>
                      {l.choices.map((c) => (
                        <label key={c.key} className="flex gap-1.5">
                          <input
                            type="radio"
                            name={`line-${l.line}`}
                            checked={chosen[l.line] === c.key}
                            onChange={() => setChosen({ ...chosen, [l.line]: c.key })}
                            className="accent-river"
                          />
                          <span>
                            {c.title} · {c.supplier}, {c.currency} {formatMinor(c.cost, c.currency)}
                          </span>
                        </label>
                      ))}
                    </fieldset>
                  )}
                </div>
              </li>
            ))}
          </ol>
        </Section>
      )}
    </Docket>
  );
}
