'use client';
import Link from 'next/link';
import { useEffect, useId, useRef, useState } from 'react';
import { usualQuestion } from '../../core/messages';
import { type BuyerField, isWarning, type Problem, problemInWords, type Values } from '../../core/personal';
import { countOf } from '../../core/units';
import { useAnswer } from '../../ui/answer';
import { Button } from '../../ui/button';
import { Notice, Section } from '../../ui/head';
import { say } from '../../ui/said';
import { useShop } from '../../ui/shop';
import { useOrdersVersion } from '../../ui/versions';
import { theShop } from '../../work/desk/client';
import type { Said } from '../../work/orders/actions';
import type { ProofSheet, WaitingProof } from '../../work/orders/proofs';
import { marketOf } from '../../work/quoting/worth';
import { ProofPicture } from './proof-picture';

interface Props {
  readonly waiting: WaitingProof;
  /** How many wait, and which of them this is. */
  readonly of: number;
  readonly at: number;
  readonly onGo: (by: number) => void;
  readonly onApprove: (proof: WaitingProof, doing: () => Promise<Said>) => void;
}

/** One proof with the buyer's words beside it. */
export function Proof({ waiting, ...rest }: Props) {
  const version = useOrdersVersion();
  const shop = useShop();
  const proof = useAnswer(
    () => theShop().proof(waiting.order, waiting.line),
    [waiting.order, waiting.line, version, JSON.stringify(shop?.settings.personal)],
  );
  if (proof === undefined) return <div aria-busy className="grow bg-raised" />;
  if (!proof)
    return (
      <div className="grow p-4">
        <Notice tone="loss">
          It is not known any more what {waiting.title} is made of, or who bought it.
        </Notice>
      </div>
    );
  return <Open key={JSON.stringify(proof.values)} proof={proof} waiting={waiting} {...rest} />;
}

const isTyping = (target: EventTarget | null) =>
  target instanceof HTMLElement && target.matches('input, textarea, select, [contenteditable]');

function Open({ proof, waiting, of, at, onGo, onApprove }: Props & { proof: ProofSheet }) {
  const [typed, setTyped] = useState<Values | null>(null);
  const [asking, setAsking] = useState(false);
  const [area, setArea] = useState(proof.areas[0]?.id ?? '');
  const first = useRef<HTMLInputElement & HTMLTextAreaElement>(null);
  const values = typed ?? proof.values;
  const checked = useAnswer(
    async () => (typed ? theShop().typedProblems(proof.order, proof.line, typed) : null),
    [JSON.stringify(typed)],
    120,
  );
  const problems = typed ? (checked ?? []) : proof.problems;
  const stuck = problems.filter((p) => !isWarning(p));
  const ready = stuck.length === 0 && (typed === null || checked !== undefined);
  const approve = () => {
    if (ready) onApprove(waiting, () => theShop().approveProof(proof.order, proof.line, values));
    else void say('It cannot be made like this: see what stands beside its fields.', { wrong: true });
  };
  const keep = async () => {
    if (!typed) return;
    const said = await theShop().correctProof(proof.order, proof.line, typed);
    await say(said.ok ? 'The words were changed.' : said.reason, said.ok ? { undo: true } : { wrong: true });
  };
  // The newest of each, for keys.
  const acts = useRef({ approve, onGo });
  acts.current = { approve, onGo };
  useEffect(() => {
    const byKey = (e: KeyboardEvent) => {
      if (e.defaultPrevented || e.ctrlKey || e.metaKey || e.altKey || isTyping(e.target)) return;
      const act = {
        a: () => acts.current.approve(),
        j: () => acts.current.onGo(1),
        k: () => acts.current.onGo(-1),
        e: () => first.current?.focus(),
        q: () => setAsking(true),
      }[e.key];
      if (!act) return;
      e.preventDefault();
      act();
    };
    window.addEventListener('keydown', byKey);
    return () => window.removeEventListener('keydown', byKey);
  }, []);
  const shown = proof.areas.find((a) => a.id === area) ?? proof.areas[0];
  const left = problems.find((p) => p.kind === 'left');
  return (
    <>
      <div className="flex min-w-0 grow flex-col bg-raised">
        {proof.areas.length > 1 && (
          <div className="flex gap-1 px-4 pt-2">
            {proof.areas.map((a) => (
              <button
                key={a.id}
                type="button"
                aria-pressed={a === shown}
                onClick={() => setArea(a.id)}
                className={`rounded-sm border px-2 py-0.5 text-[13px] ${a === shown ? 'border-river bg-river-soft font-semibold' : 'border-rule bg-surface'}`}
              >
                {a.name}
              </button>
            ))}
          </div>
        )}
        <div className="flex min-h-0 grow items-center justify-center p-5">
          {shown && <ProofPicture proof={proof} area={shown} values={values} />}
        </div>
        <p className="px-4 pb-2 text-[13px] text-muted">
          {[proof.blank, proof.colour, proof.size].filter(Boolean).join(', ')}
          {proof.units > 1 && `. ${countOf(proof.units, 'unit')}, all alike.`}
        </p>
      </div>
      <aside
        aria-label="Words and fields"
        className="w-[340px] shrink-0 overflow-auto border-l border-rule bg-surface px-4 pb-6"
      >
        <Section
          title={`${at + 1} of ${of}`}
          aside={
            <Link
              href={`/orders?row=${encodeURIComponent(proof.order)}`}
              className="font-mono text-[13px] text-river underline"
            >
              {proof.number}
            </Link>
          }
        >
          <p className="text-[13px] text-muted">{proof.buyer} wrote:</p>
          <blockquote className="mt-0.5 border-l-2 border-river pl-2 text-[13.5px] whitespace-pre-wrap break-words">
            {proof.came || <span className="text-muted">nothing to this line</span>}
          </blockquote>
          {proof.note && (
            <>
              <p className="mt-1 text-[13px] text-muted">and with the order:</p>
              <blockquote className="border-l-2 border-rule pl-2 text-[13.5px] whitespace-pre-wrap break-words">
                {proof.note}
              </blockquote>
            </>
          )}
          {left?.kind === 'left' && (
            <Notice>
              Not read into any field: “{left.text}”. Put it where it belongs, or ask the buyer.
            </Notice>
          )}
        </Section>
        <form
          onSubmit={(e) => {
            e.preventDefault();
            void keep();
          }}
        >
          <Section title={proof.corrected ? 'As you set it' : 'As it was read'}>
            {proof.fields.map((f, k) => (
              <FieldInput
                key={f.id}
                field={f}
                value={values[f.id] ?? ''}
                problems={problems.filter((p) => p.field === f.id && p.kind !== 'left')}
                inputRef={k === 0 ? first : undefined}
                onChange={(value) => setTyped({ ...values, [f.id]: value })}
              />
            ))}
            {typed && (
              <div className="mt-2 flex gap-2">
                <Button type="submit">Keep these words</Button>
                <Button kind="text" onClick={() => setTyped(null)}>
                  As before
                </Button>
              </div>
            )}
          </Section>
        </form>
        {proof.now && (
          <Notice>
            Its listing shows another print by now. It is made as it was shown when it was sold.
            <div className="mt-1">
              <Button
                onClick={async () => {
                  const said = await theShop().proofAsNow(proof.order, proof.line, proof.now!);
                  await say(said.ok ? 'It is made as its listing shows it now.' : said.reason, {
                    ...(said.ok ? { undo: true } : { wrong: true }),
                  });
                }}
              >
                Make it as shown now
              </Button>
            </div>
          </Notice>
        )}
        {asking ? (
          <Question proof={proof} problems={problems} onDone={() => setAsking(false)} />
        ) : (
          <div className="mt-3 flex flex-wrap items-center gap-2">
            <Button kind="main" disabled={!ready} onClick={approve}>
              Approve
            </Button>
            <Button onClick={() => setAsking(true)}>Ask the buyer</Button>
            <Button kind="text" disabled={at + 1 >= of} onClick={() => onGo(1)}>
              Next
            </Button>
          </div>
        )}
        <p className="mt-3 text-xs text-muted">
          Keys: A approves, J and K go on and back, E edits, Q asks the buyer.
        </p>
      </aside>
    </>
  );
}

function FieldInput({
  field,
  value,
  problems,
  inputRef,
  onChange,
}: {
  field: BuyerField;
  value: string;
  problems: readonly Problem[];
  inputRef?: React.Ref<HTMLInputElement & HTMLTextAreaElement> | undefined;
  onChange: (value: string) => void;
}) {
  const id = useId();
  const wrong = problems.some((p) => !isWarning(p));
  const shared = {
    id,
    value,
    'aria-invalid': wrong || undefined,
    'aria-describedby': problems.length ? `${id}-why` : undefined,
    className: `mt-0.5 block w-full rounded-sm border bg-surface px-1.5 py-1 text-[13.5px] ${wrong ? 'border-loss' : 'border-edge'}`,
  };
  const meant = problems.flatMap((p) =>
    p.kind === 'which day' ? p.days : p.kind === 'which place' ? p.places : [],
  );
  const options =
    field.kind === 'choice' && !problems.some((p) => p.kind === 'no such choice') ? field.choices : null;
  return (
    <div className="mt-1.5">
      <label htmlFor={id} className="text-xs text-muted">
        {field.name}
        {!field.required && ', may be left out'}
      </label>
      {field.kind === 'picture' ? (
        <p className="text-[13.5px]">{value ? 'As the buyer sent it.' : 'The buyer sent none.'}</p>
      ) : field.kind === 'choice' ? (
        <select {...shared} onChange={(e) => onChange(e.target.value)}>
          {!options && <option value={value}>{value || 'Not said'}</option>}
          {field.choices.map((c) => (
            <option key={c.name}>{c.name}</option>
          ))}
        </select>
      ) : field.kind === 'text' && field.lines > 1 ? (
        <textarea {...shared} ref={inputRef} rows={field.lines} onChange={(e) => onChange(e.target.value)} />
      ) : (
        <input {...shared} ref={inputRef} onChange={(e) => onChange(e.target.value)} />
      )}
      {problems.length > 0 && (
        <p id={`${id}-why`} className={`text-[12.5px] ${wrong ? 'text-loss' : 'text-lamp'}`}>
          {meant.length
            ? 'There are several. Which one is meant?'
            : problems.map((p) => problemInWords(p)).join(' ')}
        </p>
      )}
      {meant.length > 0 && (
        <div className="mt-1 flex flex-wrap gap-1">
          {meant.map((one) => (
            <Button key={one} onClick={() => onChange(one)}>
              {one}
            </Button>
          ))}
        </div>
      )}
    </div>
  );
}

function Question({
  proof,
  problems,
  onDone,
}: {
  proof: ProofSheet;
  problems: readonly Problem[];
  onDone: () => void;
}) {
  const shop = useShop();
  const id = useId();
  const language = shop ? (marketOf(shop, proof.marketplace)?.site.language ?? 'en') : 'en';
  const names = new Map(proof.fields.map((f) => [f.id, f.name]));
  const [text, setText] = useState(() =>
    usualQuestion(
      language.slice(0, 2),
      { buyer: proof.buyer, order: proof.number, shop: shop?.settings.shop ?? '' },
      problems.map((p) => problemInWords(p, names.get(p.field) ?? '')).join(' '),
    ),
  );
  const [busy, setBusy] = useState(false);
  return (
    <form
      className="mt-3"
      onSubmit={async (e) => {
        e.preventDefault();
        setBusy(true);
        const said = await theShop().askBuyer(proof.order, proof.line, text);
        await say(said.ok ? `The buyer of ${proof.number} is asked.` : said.reason, { wrong: !said.ok });
        setBusy(false);
        if (said.ok) onDone();
      }}
    >
      <label htmlFor={id} className="text-xs text-muted">
        Question to the buyer{problems.length > 0 && '. Say in their language what stands in the way'}
      </label>
      <textarea
        id={id}
        rows={8}
        value={text}
        // biome-ignore lint/a11y/noAutofocus: it was asked for by a key
        autoFocus
        onChange={(e) => setText(e.target.value)}
        className="block w-full rounded-sm border border-edge bg-surface px-1.5 py-1 text-[13.5px]"
      />
      <div className="mt-1.5 flex gap-2">
        <Button kind="main" type="submit" disabled={busy || !text.trim()}>
          Send the question
        </Button>
        <Button kind="text" onClick={onDone}>
          Not now
        </Button>
      </div>
    </form>
  );
}
