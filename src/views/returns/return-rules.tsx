'use client';
import { useState } from 'react';
import { formatMinor, parseMinor } from '../../core/money';
import { FAULTS, type Fault, type ReturnRules, USUAL_RETURN_RULES } from '../../core/returns';
import { AmountField } from '../../ui/amount-field';
import { Button } from '../../ui/button';
import { Docket } from '../../ui/docket';
import { Section } from '../../ui/head';
import { say } from '../../ui/said';
import { theShop } from '../../work/desk/client';
import { marketsOf, type ShopTerms } from '../../work/quoting/worth';

const FAULT: Readonly<Record<Fault, string>> = {
  supplier: 'the supplier’s',
  carrier: 'the carrier’s',
  buyer: 'nobody’s',
  seller: 'the listing’s',
};

const LOOK = 'rounded-sm border border-edge bg-surface px-1.5 py-0.5 text-sm text-ink';

/** A whole number that is typed. */
const whole = (least: number, most: number) => (text: string) => {
  const n = Number(text.trim());
  return Number.isSafeInteger(n) && n >= least && n <= most
    ? ({ ok: true, value: n } as const)
    : ({ ok: false, reason: `A whole number from ${least} to ${most}.` } as const);
};

/** How returns are handled: the seller's reasons, what buyers keep, and when a product stands out. */
export function ReturnRulesDocket({ shop, onClose }: { shop: ShopTerms; onClose: () => void }) {
  const kept = shop.settings.returns ?? USUAL_RETURN_RULES;
  const [rules, setRules] = useState<ReturnRules>(kept);
  const [busy, setBusy] = useState(false);
  const currencies = [...new Set(marketsOf(shop).map((m) => m.site.currency))].sort();
  const changed = JSON.stringify(rules) !== JSON.stringify(kept);
  const set = (part: Partial<ReturnRules>) => setRules({ ...rules, ...part });
  return (
    <Docket label="Rules for returns" onClose={onClose}>
      <h2 className="text-base font-semibold">Rules for returns</h2>
      <Section title="Small amounts">
        <p className="text-[13.5px] text-muted">Up to this much a buyer is refunded and keeps the goods.</p>
        <div className="mt-1 flex flex-wrap gap-3">
          {currencies.map((currency) => (
            <AmountField
              key={currency}
              label={currency}
              optional
              placeholder="never"
              value={rules.keepUpTo[currency] ?? null}
              write={(n) => formatMinor(n, currency)}
              parse={(text) => parseMinor(text, currency)}
              onChange={(n) => {
                const { [currency]: _, ...others } = rules.keepUpTo;
                set({ keepUpTo: n === null ? others : { ...others, [currency]: n } });
              }}
            />
          ))}
        </div>
        <label className="mt-1.5 flex items-center gap-1.5 text-[13.5px]">
          <input
            type="checkbox"
            checked={rules.byItself}
            onChange={(e) => set({ byItself: e.target.checked })}
            className="accent-river"
          />
          Do it without asking me
        </label>
        <p className="text-xs text-muted">Otherwise it is only proposed. Chargebacks always wait for you.</p>
      </Section>
      <Section title="Reasons, and whose fault they are">
        <ul className="space-y-1">
          {rules.reasons.map((r, k) => (
            <li key={k} className="flex items-center gap-1.5">
              <input
                aria-label={`Reason ${k + 1}`}
                value={r.name}
                maxLength={60}
                onChange={(e) =>
                  set({
                    reasons: rules.reasons.map((one, n) =>
                      n === k ? { ...one, name: e.target.value } : one,
                    ),
                  })
                }
                className={`min-w-0 grow ${LOOK}`}
              />
              <select
                aria-label={`Whose fault “${r.name}” is`}
                value={r.fault}
                onChange={(e) =>
                  set({
                    reasons: rules.reasons.map((one, n) =>
                      n === k ? { ...one, fault: e.target.value as Fault } : one,
                    ),
                  })
                }
                className={LOOK}
              >
                {FAULTS.map((f) => (
                  <option key={f} value={f}>
                    {FAULT[f]}
                  </option>
                ))}
              </select>
              <Button
                kind="text"
                aria-label={`Take “${r.name}” out`}
                disabled={rules.reasons.length === 1}
                onClick={() => set({ reasons: rules.reasons.filter((_, n) => n !== k) })}
              >
                ×
              </Button>
            </li>
          ))}
        </ul>
        <Button
          kind="text"
          className="mt-1"
          onClick={() => {
            const n = rules.reasons.length + 1;
            let id = `own ${n}`;
            while (rules.reasons.some((r) => r.id === id)) id += '+';
            // The last of the list stands for what is not understood.
            const made = { id, name: '', fault: 'seller' as const };
            set({ reasons: [...rules.reasons.slice(0, -1), made, ...rules.reasons.slice(-1)] });
          }}
        >
          Add a reason
        </Button>
        <p className="text-xs text-muted">
          The last one stands for whatever a marketplace says that is none of these.
        </p>
      </Section>
      <Section title="When a product stands out">
        <div className="flex flex-wrap items-end gap-3 text-[13.5px]">
          <AmountField
            label="More than, % of what was sold"
            value={rules.limit.percent}
            write={String}
            parse={whole(1, 100)}
            onChange={(n) => n !== null && set({ limit: { ...rules.limit, percent: n } })}
          />
          <AmountField
            label="And at least, units"
            value={rules.limit.least}
            write={String}
            parse={whole(1, 10_000)}
            onChange={(n) => n !== null && set({ limit: { ...rules.limit, least: n } })}
          />
        </div>
      </Section>
      <div className="mt-4 flex gap-2">
        <Button
          kind="main"
          disabled={busy || !changed}
          onClick={async () => {
            setBusy(true);
            const said = await theShop().setReturnRules(rules);
            await say(
              said.ok ? 'The rules for returns are saved.' : said.reason,
              said.ok ? { undo: true } : { wrong: true },
            );
            setBusy(false);
          }}
        >
          Save
        </Button>
        <Button kind="text" disabled={!changed} onClick={() => setRules(kept)}>
          As before
        </Button>
      </div>
    </Docket>
  );
}
