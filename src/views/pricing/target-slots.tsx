'use client';
import type { Currency } from '../../core/money';
import { FORMULA_FIELDS, parseFormula, type Target } from '../../core/pricing';
import type { MarketConnection } from '../../work/model';
import { amountIn, FACTOR, MARKUP, shareUpTo } from './amounts';
import { ChoiceSlot, NumberSlot, TextSlot } from './slot';

/** A target of another kind, with amounts to begin with. */
function targetOf(kind: Target['kind'], before: Target, elsewhere: string): Target {
  if (kind === before.kind) return before;
  switch (kind) {
    case 'margin':
      return { kind, rate: 200_000 };
    case 'markup':
      return { kind, rate: 500_000 };
    case 'profit':
      return { kind, minor: 300 };
    case 'market':
      return { kind, rate: 1_000_000, minor: -5 };
    case 'site':
      return { kind, marketplace: elsewhere, rate: 1_000_000, minor: 0 };
    case 'fixed':
      return { kind, minor: 1_999 };
    case 'formula':
      return { kind, text: 'max(cost * 1.45 + 2.2, market - 0.05)' };
  }
}

/** What a price aims for. */
export function TargetSlots({
  target,
  currency,
  markets,
  elsewhere,
  name,
  onChange,
}: {
  target: Target;
  currency: Currency;
  markets: readonly MarketConnection[];
  /** The marketplace whose price is gone by until another is chosen. */
  elsewhere: string;
  /** Behind each label, where there are several. */
  name: string;
  onChange: (target: Target) => void;
}) {
  const money = amountIn(currency);
  const offset = amountIn(currency, -100_000_000);
  return (
    <>
      <ChoiceSlot
        label={`Target${name}`}
        value={target.kind}
        choices={[
          ['margin', 'a margin of the selling price'],
          ['markup', 'a markup on landed cost'],
          ['profit', 'a fixed profit'],
          ['market', 'the market price'],
          ['site', 'the price on another marketplace'],
          ['fixed', 'a fixed price'],
          ['formula', 'a formula'],
        ]}
        onChange={(kind) => onChange(targetOf(kind, target, elsewhere))}
      />{' '}
      {target.kind === 'margin' && (
        <>
          of{' '}
          <NumberSlot
            label={`Margin${name}`}
            value={target.rate}
            {...shareUpTo(900_000)}
            onChange={(rate) => onChange({ ...target, rate })}
          />
        </>
      )}
      {target.kind === 'markup' && (
        <>
          of{' '}
          <NumberSlot
            label={`Markup${name}`}
            value={target.rate}
            {...MARKUP}
            onChange={(rate) => onChange({ ...target, rate })}
          />
        </>
      )}
      {target.kind === 'profit' && (
        <>
          of{' '}
          <NumberSlot
            label={`Profit a sale${name}`}
            value={target.minor}
            {...money}
            onChange={(minor) => onChange({ ...target, minor })}
          />
        </>
      )}
      {target.kind === 'fixed' && (
        <>
          of{' '}
          <NumberSlot
            label={`Fixed price${name}`}
            value={target.minor}
            {...money}
            onChange={(minor) => onChange({ ...target, minor })}
          />
        </>
      )}
      {target.kind === 'site' && (
        <>
          <ChoiceSlot
            label={`Other marketplace${name}`}
            value={target.marketplace}
            choices={markets.map((m) => [m.id, m.name] as const)}
            onChange={(marketplace) => onChange({ ...target, marketplace })}
          />{' '}
        </>
      )}
      {(target.kind === 'market' || target.kind === 'site') && (
        <>
          times{' '}
          <NumberSlot
            label={`Factor${name}`}
            value={target.rate}
            {...FACTOR}
            onChange={(rate) => onChange({ ...target, rate })}
          />
          ,{' '}
          <NumberSlot
            label={`More or less${name}`}
            value={target.minor}
            {...offset}
            write={(n) =>
              n ? `${n < 0 ? 'less' : 'plus'} ${money.write(Math.abs(n))}` : 'nothing more or less'
            }
            onChange={(minor) => onChange({ ...target, minor })}
          />
        </>
      )}
      {target.kind === 'formula' && (
        <TextSlot
          label={`Formula${name}`}
          value={target.text}
          none="write one"
          wide
          problemOf={(text) => {
            const read = parseFormula(text);
            return read.ok ? null : `At ${read.problem.at + 1}: ${read.problem.reason}`;
          }}
          onChange={(text) => onChange({ ...target, text })}
        >
          <p className="mt-1 max-w-md text-xs text-muted">
            {Object.entries(FORMULA_FIELDS).map(([field, { means }], k) => (
              <span key={field}>
                {k > 0 && ', '}
                <code className="font-mono">{field}</code> {means}
              </span>
            ))}
            . With + − * /, min, max, round(x, 0.5), first(a, b) for the first that is known, and if(a {'<'}{' '}
            b, x, y).
          </p>
        </TextSlot>
      )}
    </>
  );
}
