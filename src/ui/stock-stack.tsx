import { type StockRule, type StockStep, stockInWords } from '../core/stock';

/**
 * The supplier's stock, the part kept back, the part promised to buyers and the quantity the marketplace shows, as one
 * bar, and how it came to that.
 */
export function StockStack({ steps, rule }: { steps: readonly StockStep[]; rule: StockRule }) {
  const width = 356;
  const taken = (names: readonly StockStep['rule'][]) =>
    steps.reduce((sum, { rule: name, units }, i) => {
      return names.includes(name) ? sum + Math.max(0, (steps[i - 1]?.units ?? units) - units) : sum;
    }, 0);
  const stock = steps[0]?.units ?? 0;
  const shown = steps.at(-1)?.units ?? 0;
  const kept = taken(['kept off', 'safety', 'kept back', 'share', 'old', 'out']);
  const committed = taken(['promised']);
  // A long bar of thousands would hide the few that are shown: the scale ends at a few times what may be
  // shown.
  const end = Math.max(1, Math.min(stock, (rule.atMost + rule.safety + committed) * 4));
  const x = (n: number) => (Math.min(n, end) / end) * width;
  const text = `Supplier has ${stock}; ${kept} kept, ${committed} promised to buyers, ${shown} shown.`;
  return (
    <figure>
      <svg role="img" aria-label={text} width="100%" viewBox={`0 0 ${width} 14`}>
        <title>{text}</title>
        <rect width={width} height="14" fill={stock ? 'var(--rule-soft)' : 'none'} stroke="var(--rule)" />
        <rect width={x(kept)} height="14" fill="var(--payment)" />
        <rect x={x(kept)} width={x(kept + committed) - x(kept)} height="14" fill="var(--lamp)" />
        <rect
          x={x(kept + committed)}
          width={x(kept + committed + shown) - x(kept + committed)}
          height="14"
          fill="var(--river)"
        />
        {stock > end && (
          <path d={`M${width - 14} 0l4 7-4 7M${width - 9} 0l4 7-4 7`} fill="none" stroke="var(--muted)" />
        )}
      </svg>
      <figcaption>
        <ul className="mt-1 list-disc pl-4 text-[13px]">
          {stockInWords(steps, rule).map((line) => (
            <li key={line}>{line}</li>
          ))}
        </ul>
      </figcaption>
    </figure>
  );
}
