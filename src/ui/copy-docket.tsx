'use client';
import { useEffect, useId, useRef, useState } from 'react';
import type { TemplateProblem } from '../core/copy';
import { countOf, formatCount } from '../core/units';
import { theShop } from '../work/desk/client';
import type { Where } from '../work/desk/memory';
import {
  fieldsIn,
  NEW_TEMPLATE,
  TEMPLATE_TEXTS,
  type TemplateDraft,
  type TemplateText,
  templateProblems,
  type WeighedTemplate,
} from '../work/editing/templates';
import { useAnswer } from './answer';
import { Button } from './button';
import { CleanedHtml } from './cleaned-html';
import { Docket } from './docket';
import { Notice, Section } from './head';
import { KeywordSheet } from './keyword-sheet';
import { say } from './said';
import { useShop } from './shop';
import { useListingsVersion } from './versions';

const LABELS: Record<TemplateText, string> = {
  title: 'Title',
  description: 'Description, in HTML',
  tags: 'Tags, separated by commas',
};
const EXAMPLES: Record<TemplateText, string> = {
  title: '{{keyword}}, {{brand}}{{#colour}}, {{colour}}{{/colour}}',
  description: '<p>{{title}} by {{brand}}.</p>',
  tags: '{{keyword}}, {{category}}',
};

/** What a template is tried on and used for. */
export interface Copying {
  /** Rows that were marked when it was opened; null for none. The same object while they are the same. */
  readonly where: Where | null;
  readonly count: number;
}

/** Copy templates: which there are and what uses them, one to write with its texts filled in, and the keyword sheet. */
export function CopyDocket({ where, count, onClose }: Copying & { onClose: () => void }) {
  const version = useListingsVersion();
  const shop = useShop();
  const known = useAnswer(() => theShop().templates(), [version, shop?.templates]);
  const [open, setOpen] = useState<{ readonly id: string | null; readonly draft: TemplateDraft } | null>(
    null,
  );
  const use = async (name: string) => {
    if (!where) return;
    const asked = await theShop().previewEdit(where, { is: 'set', field: 'template', text: name });
    const done = await theShop().applyPreview(asked.id, [], new Map(), false);
    await say(
      `“${name}” is used for ${countOf(done.changed, 'more listing')}${done.sent ? `; ${done.sent} on the way to the marketplaces` : ''}.`,
      { undo: done.change !== null },
    );
  };
  const save = async () => {
    if (!open) return;
    const saved = await theShop().saveTemplate(open.id, open.draft);
    if (!saved.ok) return say(saved.reason, { wrong: true });
    setOpen({ ...open, id: saved.id });
    await say(
      `“${open.draft.name.trim()}” is saved${saved.sent ? `; ${countOf(saved.sent, 'listing')} on the way to the marketplaces` : ''}.`,
      { undo: true },
    );
  };
  if (!known) return null;
  const kept = open?.id ? known.find((t) => t.id === open.id) : undefined;
  return (
    <Docket label="Copy templates" onClose={onClose}>
      <h2 className="text-base font-semibold">
        {open ? kept?.name || 'New copy template' : 'Copy templates'}
      </h2>
      {open ? (
        <>
          <Button kind="text" className="-ml-1.5" onClick={() => setOpen(null)}>
            All templates
          </Button>
          <TemplateForm
            key={open.id ?? 'new'}
            id={open.id}
            draft={open.draft}
            where={where}
            onDraft={(draft) => setOpen({ ...open, draft })}
          />
          <div className="mt-3 flex flex-wrap gap-2">
            <Button kind="main" onClick={save}>
              Save template
            </Button>
            {kept && where && (
              <Button onClick={() => use(kept.name)}>Use for {formatCount(count)} marked</Button>
            )}
            {kept && (
              <Button
                onClick={async () => {
                  const n = await theShop().dropTemplate(kept.id);
                  setOpen(null);
                  await say(`“${kept.name}” is removed from ${countOf(n, 'listing')}.`, { undo: true });
                }}
              >
                Remove
              </Button>
            )}
          </div>
        </>
      ) : (
        <>
          <p className="text-[13px] text-muted">
            One text for many products: {'{{brand}}'} stands for the brand of each. What a product has nothing
            for is flagged, never printed.
          </p>
          <ul className="mt-2 text-[13.5px]">
            {known.map(({ uses, ...template }) => (
              <li key={template.id} className="flex items-baseline gap-2 border-b border-rule-soft py-1">
                <button
                  type="button"
                  className="grow text-left font-semibold text-river hover:underline"
                  onClick={() => setOpen({ id: template.id, draft: template })}
                >
                  {template.name}
                </button>
                <span className="text-muted">{countOf(uses, 'listing')}</span>
                {where && (
                  <Button kind="text" onClick={() => use(template.name)}>
                    Use for {formatCount(count)}
                  </Button>
                )}
              </li>
            ))}
          </ul>
          <div className="mt-2">
            <Button kind="main" onClick={() => setOpen({ id: null, draft: NEW_TEMPLATE })}>
              New template
            </Button>
          </div>
          <KeywordSheet />
        </>
      )}
    </Docket>
  );
}

/** Milliseconds of rest after which a draft is filled in for all. */
const REST = 200;
/** Listings that a draft is filled in for at each key. */
const SOME = 60;

function TemplateForm({
  id,
  draft,
  where,
  onDraft,
}: {
  id: string | null;
  draft: TemplateDraft;
  where: Where | null;
  onDraft: (draft: TemplateDraft) => void;
}) {
  const own = useId();
  const texts = useRef<Partial<Record<TemplateText, HTMLTextAreaElement | null>>>({});
  const last = useRef<TemplateText>('title');
  const [weighed, setWeighed] = useState<WeighedTemplate | null>(null);
  useEffect(() => {
    let stale = false;
    // Some at once, while one types; all of them once that rests.
    theShop()
      .weighTemplate(id, draft, where ?? EVERYTHING, SOME)
      .then(
        (some) =>
          !stale && some && setWeighed((before) => (before ? { ...before, samples: some.samples } : some)),
      );
    const timer = setTimeout(async () => {
      const found = await theShop().weighTemplate(id, draft, where ?? EVERYTHING);
      if (!stale && found) setWeighed(found);
    }, REST);
    return () => {
      stale = true;
      clearTimeout(timer);
    };
  }, [id, draft, where]);
  const problems = templateProblems(draft);
  const used = fieldsIn(draft);
  const insert = (field: string) => {
    const text = last.current;
    const area = texts.current[text];
    const [from, to] = [area?.selectionStart ?? draft[text].length, area?.selectionEnd ?? draft[text].length];
    const put = `{{${field}}}`;
    onDraft({ ...draft, [text]: draft[text].slice(0, from) + put + draft[text].slice(to) });
    requestAnimationFrame(() => {
      area?.focus();
      area?.setSelectionRange(from + put.length, from + put.length);
    });
  };
  const known = weighed?.fields.map(([field]) => field) ?? [];
  const gaps = new Map(weighed?.empty);
  return (
    <>
      <label htmlFor={`${own}-name`} className="mt-1 block text-xs text-muted">
        Name
      </label>
      <input
        id={`${own}-name`}
        value={draft.name}
        placeholder="Everyday, Christmas"
        onChange={(e) => onDraft({ ...draft, name: e.target.value })}
        className="w-full rounded-sm border border-edge bg-surface px-1.5 py-1"
      />
      {TEMPLATE_TEXTS.map((text) => (
        <div key={text}>
          <label htmlFor={`${own}-${text}`} className="mt-2 block text-xs text-muted">
            {LABELS[text]}
          </label>
          <textarea
            id={`${own}-${text}`}
            ref={(area) => {
              texts.current[text] = area;
            }}
            rows={text === 'description' ? 4 : 2}
            spellCheck={false}
            value={draft[text]}
            placeholder={EXAMPLES[text]}
            aria-invalid={problems[text] !== undefined}
            aria-describedby={problems[text] && `${own}-${text}-problem`}
            onFocus={() => {
              last.current = text;
            }}
            onChange={(e) => onDraft({ ...draft, [text]: e.target.value })}
            className="w-full rounded-sm border border-edge bg-surface px-1.5 py-1 font-mono text-[13px] aria-invalid:border-loss"
          />
          {problems[text] && (
            <Problem id={`${own}-${text}-problem`} text={draft[text]} problem={problems[text]} />
          )}
        </div>
      ))}
      {known.length > 0 && (
        <Section title="Fields: click one to put it in">
          <p className="flex flex-wrap gap-1">
            {weighed!.fields.map(([field, n]) => (
              <button
                key={field}
                type="button"
                title={`${countOf(n, 'listing')} of ${formatCount(weighed!.listings)} have it`}
                onClick={() => insert(field)}
                className="rounded-sm border border-edge px-1.5 py-0.5 font-mono text-xs hover:bg-river-soft"
              >
                {field}
              </button>
            ))}
          </p>
          <p className="mt-1 text-xs text-muted">
            A listing with options has one text for all of them: its SKU, barcode and options, such as colour,
            are left out of it.
          </p>
        </Section>
      )}
      {used.length > 0 && (
        <Section title="Where a product has nothing">
          <ul className="text-[13px]">
            {used.map((field) => (
              <li key={field} className="flex items-center gap-2 py-0.5">
                <span className="grow font-mono">{field}</span>
                {gaps.has(field) && (
                  <span className="font-semibold text-lamp">{formatCount(gaps.get(field)!)} empty</span>
                )}
                <label className="text-muted">
                  else{' '}
                  <select
                    value={draft.fallbacks[field] ?? ''}
                    onChange={(e) => {
                      const { [field]: _, ...others } = draft.fallbacks;
                      onDraft({
                        ...draft,
                        fallbacks: e.target.value ? { ...others, [field]: e.target.value } : others,
                      });
                    }}
                    className="rounded-sm border border-edge bg-surface px-1 py-0.5 text-ink"
                  >
                    <option value="">flag it</option>
                    {known
                      .filter((other) => other !== field)
                      .map((other) => (
                        <option key={other} value={other}>
                          {other}
                        </option>
                      ))}
                  </select>
                </label>
              </li>
            ))}
          </ul>
        </Section>
      )}
      {weighed && used.length + draft.title.length > 0 && <Samples weighed={weighed} />}
    </>
  );
}

const EVERYTHING: Where = { view: 'bench', rows: { query: '' } };

function Problem({ id, text, problem }: { id: string; text: string; problem: TemplateProblem }) {
  const line = text.slice(0, problem.at).split('\n').length;
  return (
    <p id={id} role="alert" className="text-xs text-loss">
      Line {line}, at “{text.slice(problem.at, problem.at + 16) || 'the end'}”: {problem.reason}
    </p>
  );
}

function Samples({ weighed }: { weighed: WeighedTemplate }) {
  return (
    <Section
      title={`Filled in for ${countOf(weighed.listings, 'listing')}`}
      aside={
        weighed.tooLong > 0 && <b className="text-lamp">{formatCount(weighed.tooLong)} titles too long</b>
      }
    >
      {weighed.samples.map(({ sku, market, made, titleLimit }) => {
        const empty = [...new Set(Object.values(made.empty).flat())];
        const length = [...(made.title ?? '')].length;
        return (
          <div key={`${market} ${sku}`} className="border-b border-rule-soft py-1.5 text-[13.5px]">
            <p className="text-xs text-muted">
              <span className="font-mono">{sku}</span> · {market}
            </p>
            {made.title !== null && (
              <p className="font-semibold">
                {made.title}{' '}
                <span className={`text-xs font-normal ${length > titleLimit ? 'text-lamp' : 'text-muted'}`}>
                  {length} of {titleLimit}
                </span>
              </p>
            )}
            {made.description !== null && <CleanedHtml html={made.description} />}
            {made.tags && <p className="text-[13px]">{made.tags.join(' · ')}</p>}
            {empty.length > 0 && (
              <Notice>
                Nothing for {empty.map((field) => `{{${field}}}`).join(', ')}. It cannot be approved like
                this.
              </Notice>
            )}
          </div>
        );
      })}
    </Section>
  );
}
