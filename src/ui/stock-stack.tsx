/**
 * What the supplier has, what is kept back, what is promised to buyers, what the marketplace shows, as one
 * bar.
 */
export function StockStack({
  stock,
  safety,
  promised,
  shown,
  atMost,
}: {
  stock: number;
  safety: number;
  promised: number;
  shown: number;
  atMost: number;
}) {
  const width = 356;
  // A long bar of thousands would hide the few that are shown: the scale ends at a few times what may be
  // shown.
  const end = Math.max(1, Math.min(stock, (atMost + safety + promised) * 4));
  const x = (n: number) => (Math.min(n, end) / end) * width;
  const kept = Math.min(stock, safety);
  const committed = Math.min(stock - kept, promised);
  const text = `Supplier has ${stock}; ${kept} kept for safety, ${committed} promised to buyers, ${shown} shown.`;
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
      <figcaption className="mt-1 flex gap-3 text-xs text-muted">
        <span>{kept} safety</span>
        {committed > 0 && <span className="text-lamp">{committed} promised</span>}
        <span className="font-semibold text-river">{shown} shown</span>
        <span className="grow text-right">{stock} at the supplier</span>
      </figcaption>
    </figure>
  );
}
