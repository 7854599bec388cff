'use client';
import { useState } from 'react';
import type { Format, Match } from '../../core/lists';
import { Button } from '../../ui/button';
import { Notice } from '../../ui/head';
import { askLists } from '../../work/desk/client';
import type { Inspected, Sample } from '../../work/readings/dropped-lists';
import { Conventions } from './conventions';
import { FirstRows } from './first-rows';

interface Props {
  readonly inspected: Inspected;
  /** Whose list it is. */
  readonly of: string;
  readonly action: string;
  readonly onRead: (match: Match) => void;
  readonly onLeave: () => void;
}

/**
 * The first rows of a list as they will be read: what each column is, what each cell means, and everything
 * that can be corrected, on one picture.
 */
export function MatchPicture({ inspected, of, action, onRead, onLeave }: Props) {
  const [sample, setSample] = useState<Sample>(inspected.sample);
  const [wrong, setWrong] = useState<string | null>(null);
  const { match } = sample;
  const again = async (next: Match, reguess = false) => {
    const got = await askLists((lists) => lists.resample(inspected.file, next, reguess));
    if (got.ok) {
      setSample(got.sample);
      setWrong(null);
    } else setWrong(got.reason);
  };
  const change = (part: Partial<Match>) => again({ ...match, ...part });
  const reopen = (format: Format) => again({ ...match, format }, true);

  return (
    <section aria-label="How the list is read" className="flex min-h-0 grow flex-col">
      <div className="flex flex-wrap items-center gap-3 px-4 pb-2">
        <h2 className="text-base font-semibold">
          {inspected.name} <span className="text-[13px] font-normal text-muted">of {of}</span>
        </h2>
        <span className="grow" />
        <Button onClick={onLeave}>Cancel</Button>
        <Button
          kind="main"
          disabled={sample.problems.length > 0 || wrong !== null}
          onClick={() => onRead(match)}
        >
          {action}
        </Button>
      </div>
      <div className="px-4">
        {inspected.changed && (
          <Notice>
            Its columns are not those of the last list. What each is was guessed anew: look it over.
          </Notice>
        )}
        {inspected.sniffed.notes.map((note) => (
          <Notice key={note} tone="plain">
            {note}
          </Notice>
        ))}
        {wrong && <Notice tone="loss">{wrong}</Notice>}
        {sample.problems.map((p) => (
          <Notice key={p}>{p}</Notice>
        ))}
      </div>
      <Conventions inspected={inspected} match={match} onChange={change} onReopen={reopen} />
      <FirstRows sample={sample} onChange={change} />
    </section>
  );
}
