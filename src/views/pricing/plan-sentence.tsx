'use client';
import type { Currency } from '../../core/money';
import {
  type DemandRule,
  type DemandStep,
  type Ending,
  type EndingBand,
  FORMULA_FIELDS,
  type PriceBand,
  parseFormula,
  spanProblem,
  type Target,
} from '../../core/pricing';
import { STARTING_STOCK_RULE, type StockRule } from '../../core/stock';
import { Button } from '../../ui/button';
import type { MarketConnection, PlanRow } from '../../work/model';
import { amountIn, FACTOR, MARKUP, shareUpTo, WHOLE_NUMBER } from './amounts';
import { ChoiceSlot, NumberSlot, OptionalSlot, TextSlot } from './slot';

const ENDINGS = [
  ['99/100', '.99'],
  ['95/100', '.95'],
  ['49/50', '.49 or .99'],
  ['0/100', 'whole amounts'],
  ['0/1', 'any digit'],
] as const;
const endingKey = (e: Ending | null) => (e ? (`${e.minor}/${e.per}` as (typeof ENDINGS)[number][0]) : '0/1');

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

interface Props {
  readonly plan: PlanRow;
  readonly currency: Currency;
  readonly markets: readonly MarketConnection[];
  readonly onChange: (part: Partial<PlanRow>) => void;
}

/** A whole plan as a sentence of which every underlined part can be changed. */
export function PlanSentence({ plan, currency, markets, onChange }: Props) {
  const money = amountIn(currency);
  const setBand = (at: number, part: Partial<PriceBand>) =>
    onChange({ bands: plan.bands.map((b, k) => (k === at ? { ...b, ...part } : b)) });
  const setEnding = (at: number, part: Partial<EndingBand>) =>
    onChange({ endings: plan.endings.map((e, k) => (k === at ? { ...e, ...part } : e)) });
  const one = plan.marketplaces?.length === 1 ? plan.marketplaces[0]! : 'all';
  return (
    <div className="text-[15px] leading-[1.9]">
      For goods matching{' '}
      <TextSlot
        label="Goods, as in a search: torch brand:Fellmoor cost:>20"
        value={plan.filter}
        none="anything"
        wide
        onChange={(filter) => onChange({ filter })}
      />{' '}
      on{' '}
      <ChoiceSlot
        label="Marketplace"
        value={one}
        choices={[['all', 'all marketplaces'], ...markets.map((m) => [m.id, m.name] as const)]}
        onChange={(id) => onChange({ marketplaces: id === 'all' ? null : [id] })}
      />
      , from{' '}
      <TextSlot
        label="From, in the time of each marketplace"
        type="datetime-local"
        value={plan.from ?? ''}
        none="now on"
        onChange={(from) => onChange({ from: from || null })}
      />{' '}
      to{' '}
      <TextSlot
        label="To, in the time of each marketplace"
        type="datetime-local"
        value={plan.to ?? ''}
        none="no end"
        problemOf={() => spanProblem(plan)}
        onChange={(to) => onChange({ to: to || null })}
      />
      :
      <ul>
        {plan.bands.map((band, at) => (
          <li key={at}>
            {plan.bands.length > 1 &&
              (band.upTo === null ? (
                'above that'
              ) : (
                <>
                  up to a landed cost of{' '}
                  <NumberSlot
                    label={`Band ${at + 1} ends at`}
                    value={band.upTo}
                    {...money}
                    onChange={(upTo) => setBand(at, { upTo })}
                  />
                </>
              ))}{' '}
            aim for{' '}
            <TargetSlots
              target={band.target}
              currency={currency}
              markets={markets}
              name={plan.bands.length > 1 ? ` of band ${at + 1}` : ''}
              onChange={(target) => setBand(at, { target })}
            />
            , plus{' '}
            <NumberSlot
              label={`Flat amount${plan.bands.length > 1 ? ` of band ${at + 1}` : ''}`}
              value={band.flat}
              {...money}
              onChange={(flat) => setBand(at, { flat })}
            />
            .{' '}
            {plan.bands.length > 1 && (
              <Button
                kind="text"
                className="-my-1.5"
                aria-label={`Remove band ${at + 1}`}
                onClick={() =>
                  onChange({
                    bands: plan.bands
                      .filter((_, k) => k !== at)
                      .map((b, k, all) => (k === all.length - 1 ? { ...b, upTo: null } : b)),
                  })
                }
              >
                Remove
              </Button>
            )}
          </li>
        ))}
      </ul>
      <Button
        kind="text"
        className="-my-1.5 -ml-1.5"
        onClick={() => {
          const last = plan.bands.at(-1)!;
          const from = plan.bands.at(-2)?.upTo ?? 0;
          onChange({
            bands: [...plan.bands.slice(0, -1), { ...last, upTo: from + 1_250 }, last],
          });
        }}
      >
        Add a band of cost
      </Button>
      <br />
      Never under{' '}
      <ChoiceSlot
        label="MAP guard"
        value={plan.neverUnderMap ? 'yes' : 'no'}
        choices={[
          ['yes', 'MAP'],
          ['no', 'MAP (guard off)'],
        ]}
        onChange={(v) => onChange({ neverUnderMap: v === 'yes' })}
      />
      , a profit of{' '}
      <NumberSlot
        label="Smallest profit"
        value={plan.smallestProfit}
        {...money}
        onChange={(smallestProfit) => onChange({ smallestProfit })}
      />{' '}
      and{' '}
      <NumberSlot
        label="Smallest margin"
        value={plan.smallestMargin}
        {...shareUpTo(900_000)}
        onChange={(smallestMargin) => onChange({ smallestMargin })}
      />{' '}
      of the price, or{' '}
      <OptionalSlot
        label="Floor"
        value={plan.floor}
        none="no floor"
        {...money}
        onChange={(floor) => onChange({ floor })}
      />
      ; never over{' '}
      <OptionalSlot
        label="Share of MSRP"
        value={plan.mostOfMsrp}
        none="no share"
        {...shareUpTo(5_000_000)}
        onChange={(mostOfMsrp) => onChange({ mostOfMsrp })}
      />{' '}
      of MSRP or{' '}
      <OptionalSlot
        label="Ceiling"
        value={plan.ceiling}
        none="no ceiling"
        {...money}
        onChange={(ceiling) => onChange({ ceiling })}
      />
      . Where guards contradict,{' '}
      <ChoiceSlot
        label="Where guards contradict"
        value={plan.contradiction}
        choices={[
          ['show none', 'show none if a sale would lose'],
          ['floor', 'sell at the floor'],
          ['stay', 'stay at the old price'],
        ]}
        onChange={(contradiction) => onChange({ contradiction })}
      />
      .<br />
      {plan.endings.map((band, at) => (
        <span key={at}>
          {band.upTo !== null ? (
            <>
              Up to{' '}
              <NumberSlot
                label={`Ending ${at + 1} up to`}
                value={band.upTo}
                {...money}
                onChange={(upTo) => setEnding(at, { upTo })}
              />{' '}
              end
            </>
          ) : at ? (
            'above that'
          ) : (
            'End'
          )}{' '}
          in{' '}
          <ChoiceSlot
            label={at ? `Ending ${at + 1}` : 'Ending'}
            value={endingKey(band.ending)}
            choices={ENDINGS}
            onChange={(key) => {
              const [minor, per] = key.split('/').map(Number);
              const direction = band.ending?.direction ?? 'up';
              setEnding(at, { ending: key === '0/1' ? null : { minor: minor!, per: per!, direction } });
            }}
          />
          {band.ending && (
            <>
              , rounding{' '}
              <ChoiceSlot
                label={at ? `Direction ${at + 1}` : 'Direction'}
                value={band.ending.direction}
                choices={[
                  ['up', 'up'],
                  ['down', 'down'],
                  ['nearest', 'to the nearest'],
                ]}
                onChange={(direction) => setEnding(at, { ending: { ...band.ending!, direction } })}
              />
            </>
          )}
          {at < plan.endings.length - 1 ? ', ' : '. '}
        </span>
      ))}
      {plan.endings.length < 3 ? (
        <Button
          kind="text"
          className="-my-1.5"
          onClick={() => {
            const last = plan.endings.at(-1)!;
            const from = plan.endings.at(-2)?.upTo ?? 0;
            onChange({ endings: [...plan.endings.slice(0, -1), { ...last, upTo: from + 2_000 }, last] });
          }}
        >
          Another ending above
        </Button>
      ) : (
        <Button kind="text" className="-my-1.5" onClick={() => onChange({ endings: [plan.endings.at(-1)!] })}>
          One ending for all
        </Button>
      )}
      <br />
      Leave room for a sale of{' '}
      <NumberSlot
        label="Room for a sale"
        value={plan.room}
        {...shareUpTo(900_000)}
        onChange={(room) => onChange({ room })}
      />
      .{' '}
      {plan.sale ? (
        <>
          Take{' '}
          <NumberSlot
            label="Sale"
            value={plan.sale.off}
            {...shareUpTo(900_000)}
            onChange={(off) => onChange({ sale: { ...plan.sale!, off } })}
          />{' '}
          off from{' '}
          <TextSlot
            label="The sale begins"
            type="datetime-local"
            value={plan.sale.from}
            none="a time"
            onChange={(from) => onChange({ sale: { ...plan.sale!, from } })}
          />{' '}
          to{' '}
          <TextSlot
            label="The sale ends"
            type="datetime-local"
            value={plan.sale.to}
            none="a time"
            problemOf={() => spanProblem(plan.sale!)}
            onChange={(to) => onChange({ sale: { ...plan.sale!, to } })}
          />
          .{' '}
          <Button kind="text" className="-my-1.5" onClick={() => onChange({ sale: null })}>
            No sale
          </Button>
        </>
      ) : (
        <Button
          kind="text"
          className="-my-1.5"
          onClick={() => onChange({ sale: { off: plan.room || 100_000, ...nextWeek() } })}
        >
          Plan a sale
        </Button>
      )}
      <br />
      <DemandSlots
        rule={plan.demand ?? null}
        currency={currency}
        onChange={(demand) => onChange({ demand })}
      />
      <br />A step over{' '}
      <OptionalSlot
        label="Largest step"
        value={plan.steps.most}
        none="any size"
        {...shareUpTo(5_000_000)}
        onChange={(most) => onChange({ steps: { ...plan.steps, most } })}
      />{' '}
      waits for you; a change under{' '}
      <NumberSlot
        label="Smallest change"
        value={plan.steps.least}
        {...money}
        onChange={(least) => onChange({ steps: { ...plan.steps, least } })}
      />{' '}
      is not told; at most{' '}
      <OptionalSlot
        label="Changes a day"
        value={plan.steps.perDay}
        none="any number"
        {...WHOLE_NUMBER}
        onChange={(perDay) => onChange({ steps: { ...plan.steps, perDay } })}
      />{' '}
      a day.
      <br />
      {plan.stock ? (
        <>
          <StockSlots rule={plan.stock} onChange={(stock) => onChange({ stock })} />{' '}
          <Button kind="text" className="-my-1.5" onClick={() => onChange({ stock: null })}>
            Show as the shop does
          </Button>
        </>
      ) : (
        <>
          As much is shown as the shop’s rule says.{' '}
          <Button kind="text" className="-my-1.5" onClick={() => onChange({ stock: STARTING_STOCK_RULE })}>
            Show otherwise
          </Button>
        </>
      )}
    </div>
  );
}

/** How the price follows demand. */
function DemandSlots({
  rule,
  currency,
  onChange,
}: {
  rule: DemandRule | null;
  currency: Currency;
  onChange: (rule: DemandRule | null) => void;
}) {
  const money = amountIn(currency);
  const set = (part: Partial<DemandRule>) => {
    const next = { raise: rule?.raise ?? null, lower: rule?.lower ?? null, ...part };
    onChange(next.raise || next.lower ? next : null);
  };
  const step = (of: DemandStep, name: string, onStep: (part: Partial<DemandStep>) => void) => (
    <>
      <NumberSlot
        label={`${name} by a share`}
        value={of.rate}
        {...shareUpTo(1_000_000)}
        onChange={(rate) => onStep({ rate })}
      />{' '}
      and{' '}
      <NumberSlot
        label={`${name} by an amount`}
        value={of.minor}
        {...money}
        onChange={(minor) => onStep({ minor })}
      />
      , all steps together by at most{' '}
      <NumberSlot
        label={`${name} by at most`}
        value={of.most}
        {...shareUpTo(5_000_000)}
        onChange={(most) => onStep({ most })}
      />
    </>
  );
  const raise = rule?.raise;
  const lower = rule?.lower;
  return (
    <>
      {raise && (
        <>
          After each{' '}
          <NumberSlot
            label="Sales for a step up"
            value={raise.sales}
            {...WHOLE_NUMBER}
            onChange={(sales) => set({ raise: { ...raise, sales } })}
          />{' '}
          sold it rises by {step(raise, 'Raise', (part) => set({ raise: { ...raise, ...part } }))}.{' '}
          <Button kind="text" className="-my-1.5" onClick={() => set({ raise: null })}>
            Do not raise
          </Button>
        </>
      )}
      {lower && (
        <>
          {raise && <br />}
          After each{' '}
          <NumberSlot
            label="Days for a step down"
            value={lower.days}
            {...WHOLE_NUMBER}
            onChange={(days) => set({ lower: { ...lower, days } })}
          />{' '}
          days without a sale it falls by{' '}
          {step(lower, 'Lower', (part) => set({ lower: { ...lower, ...part } }))}.{' '}
          <Button kind="text" className="-my-1.5" onClick={() => set({ lower: null })}>
            Do not lower
          </Button>
        </>
      )}
      {!raise && !lower && 'The price does not follow demand. '}
      {!raise && (
        <Button
          kind="text"
          className="-my-1.5"
          onClick={() => set({ raise: { sales: 5, rate: 20_000, minor: 0, most: 100_000 } })}
        >
          Raise what sells
        </Button>
      )}
      {!lower && (
        <Button
          kind="text"
          className="-my-1.5"
          onClick={() => set({ lower: { days: 14, rate: 20_000, minor: 0, most: 100_000 } })}
        >
          Lower what does not
        </Button>
      )}
    </>
  );
}

/** From the next midnight on for a week, in local time. */
function nextWeek(): { from: string; to: string } {
  const day = (n: number) => {
    const at = new Date();
    at.setDate(at.getDate() + n);
    return `${at.getFullYear()}-${String(at.getMonth() + 1).padStart(2, '0')}-${String(at.getDate()).padStart(2, '0')}T00:00`;
  };
  return { from: day(1), to: day(8) };
}

function TargetSlots({
  target,
  currency,
  markets,
  name,
  onChange,
}: {
  target: Target;
  currency: Currency;
  markets: readonly MarketConnection[];
  /** Behind each label, where there are several. */
  name: string;
  onChange: (target: Target) => void;
}) {
  const money = amountIn(currency);
  const offset = amountIn(currency, -100_000_000);
  const elsewhere = markets[0]?.id ?? '';
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
          />{' '}
          and{' '}
          <NumberSlot
            label={`More or less${name}`}
            value={target.minor}
            {...offset}
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

/** A stock rule as a sentence. */
export function StockSlots({ rule, onChange }: { rule: StockRule; onChange: (rule: StockRule) => void }) {
  const set = (part: Partial<StockRule>) => onChange({ ...rule, ...part });
  const { show, aging, topUp } = rule;
  return (
    <>
      Show{' '}
      <ChoiceSlot
        label="What is shown"
        value={show.is}
        choices={[
          ['share', 'a share'],
          ['number', 'a number'],
        ]}
        onChange={(is) =>
          set({ show: is === 'share' ? { is, share: 1_000_000 } : { is, units: rule.atMost } })
        }
      />{' '}
      {show.is === 'share' ? (
        <>
          of{' '}
          <NumberSlot
            label="Share of the supplier’s stock"
            value={show.share}
            {...shareUpTo(1_000_000)}
            onChange={(share) => set({ show: { is: 'share', share } })}
          />{' '}
          of what the supplier has, less{' '}
          <NumberSlot
            label="Safety amount"
            value={rule.safety}
            {...WHOLE_NUMBER}
            onChange={(safety) => set({ safety })}
          />{' '}
          for safety
        </>
      ) : (
        <>
          of{' '}
          <NumberSlot
            label="Number shown"
            value={show.units}
            {...WHOLE_NUMBER}
            onChange={(units) => set({ show: { is: 'number', units } })}
          />{' '}
          while the supplier has enough
        </>
      )}
      , at most{' '}
      <NumberSlot
        label="At most"
        value={rule.atMost}
        {...WHOLE_NUMBER}
        onChange={(atMost) => set({ atMost })}
      />
      , rather none than fewer than{' '}
      <NumberSlot
        label="At least"
        value={rule.atLeast}
        {...WHOLE_NUMBER}
        onChange={(atLeast) => set({ atLeast })}
      />
      ; none once the supplier has{' '}
      <NumberSlot label="Out at" value={rule.outAt} {...WHOLE_NUMBER} onChange={(outAt) => set({ outAt })} />{' '}
      or fewer. With none it is{' '}
      <ChoiceSlot
        label="With none"
        value={rule.whenOut}
        choices={[
          ['pause', 'paused'],
          ['show none', 'on sale with none'],
          ['end', 'ended until there is stock'],
        ]}
        onChange={(whenOut) => set({ whenOut })}
      />
      . Stock read more than{' '}
      <OptionalSlot
        label="Hours after which stock is old"
        value={aging?.hours ?? null}
        none="any number of"
        {...WHOLE_NUMBER}
        onChange={(hours) =>
          set({ aging: hours === null ? null : { hours, share: aging?.share ?? 500_000 } })
        }
      />{' '}
      hours ago counts
      {aging ? (
        <>
          {' '}
          <NumberSlot
            label="Old stock counts"
            value={aging.share}
            {...shareUpTo(1_000_000)}
            onChange={(share) => set({ aging: { ...aging, share } })}
          />
        </>
      ) : (
        ' whole'
      )}
      .{' '}
      {topUp ? (
        <>
          It sells down to{' '}
          <NumberSlot
            label="Sells down to"
            value={topUp.downTo}
            {...WHOLE_NUMBER}
            onChange={(downTo) => set({ topUp: { ...topUp, downTo } })}
          />{' '}
          and is filled up to{' '}
          <NumberSlot
            label="Filled up to"
            value={topUp.backTo}
            {...WHOLE_NUMBER}
            onChange={(backTo) => set({ topUp: { ...topUp, backTo } })}
          />
          .{' '}
          <Button kind="text" className="-my-1.5" onClick={() => set({ topUp: null })}>
            Follow the supplier at once
          </Button>
        </>
      ) : (
        <Button
          kind="text"
          className="-my-1.5"
          onClick={() => set({ topUp: { downTo: Math.min(2, rule.atMost - 1), backTo: rule.atMost } })}
        >
          Sell down before it is filled up
        </Button>
      )}
    </>
  );
}
