'use client';
import { X } from 'lucide-react';
import { useState } from 'react';
import { type NumberShape, shapeProblem } from '../../core/tracking';
import { Button } from '../../ui/button';
import { say } from '../../ui/said';
import { theShop } from '../../work/desk/client';
import type { Settings } from '../../work/model';

const NONE: readonly NumberShape[] = [];
const FIELD = 'mt-0.5 block h-7 w-full rounded-sm border border-edge bg-surface px-1.5 text-sm text-ink';

/** How the numbers of the seller's carriers look, by which they are found in mails. */
export function ShapesPanel({ settings: { shapes = NONE } }: { settings: Pick<Settings, 'shapes'> }) {
  const [carrier, setCarrier] = useState('');
  const [shape, setShape] = useState('');
  const [wrong, setWrong] = useState('');
  const save = async (next: readonly NumberShape[], says: string) => {
    const done = await theShop().saveSettings({ shapes: next }, says);
    await say(done.ok ? `${says}.` : done.reason, { undo: done.ok, wrong: !done.ok });
  };
  const add = async () => {
    const made = { carrier: carrier.trim().slice(0, 60), shape: shape.trim().toUpperCase() };
    const problem = shapes.some((s) => s.shape === made.shape)
      ? 'Numbers of this shape have a carrier already.'
      : shapeProblem(made);
    setWrong(problem ?? '');
    if (problem) return;
    await save([...shapes, made], 'Tracking numbers changed');
    setCarrier('');
    setShape('');
  };
  return (
    <>
      <p className="text-[13px] text-muted">
        Numbers with a check digit (UPU S10, GS1 SSCC) are recognised. Others by what they look like: # is a
        digit, @ a letter, as in FP##########.
      </p>
      {shapes.length > 0 && (
        <ul className="my-1 text-[13.5px]">
          {shapes.map((s) => (
            <li key={s.shape} className="flex items-center gap-2 border-b border-rule-soft py-1">
              <span className="font-mono">{s.shape}</span>
              <span className="grow">{s.carrier}</span>
              <button
                type="button"
                aria-label={`Forget ${s.shape} of ${s.carrier}`}
                className="p-1 text-muted hover:text-ink"
                onClick={() =>
                  save(
                    shapes.filter((one) => one !== s),
                    'Tracking numbers changed',
                  )
                }
              >
                <X aria-hidden size={14} />
              </button>
            </li>
          ))}
        </ul>
      )}
      <form
        className="mt-1.5 flex items-end gap-2"
        onSubmit={(e) => {
          e.preventDefault();
          add();
        }}
      >
        <label className="grow text-xs text-muted">
          Carrier
          <input value={carrier} onChange={(e) => setCarrier(e.target.value)} className={FIELD} />
        </label>
        <label className="grow text-xs text-muted">
          Its numbers look like
          <input
            value={shape}
            aria-invalid={wrong !== ''}
            onChange={(e) => setShape(e.target.value)}
            className={`${FIELD} font-mono`}
          />
        </label>
        <Button type="submit">Add</Button>
      </form>
      {wrong && (
        <p role="alert" className="text-xs text-loss">
          {wrong}
        </p>
      )}
    </>
  );
}
