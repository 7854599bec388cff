import type { MarketConnection } from '../work/model';

/** Which marketplace one looks at; nothing where there is one alone. @param all in words, where all of them can be looked at ('') */
export function MarketSelect({
  label = 'Marketplace',
  all,
  markets,
  chosen,
  onChoose,
}: {
  label?: string;
  all?: string;
  markets: readonly MarketConnection[];
  chosen: string;
  onChoose: (id: string) => void;
}) {
  if (markets.length < 2) return null;
  return (
    <label className="flex items-center gap-1.5 text-[13px] text-muted">
      {label}
      <select
        value={chosen}
        onChange={(e) => onChoose(e.target.value)}
        className="rounded-sm border border-edge bg-surface px-1.5 py-1 text-ink"
      >
        {all && <option value="">{all}</option>}
        {markets.map((m) => (
          <option key={m.id} value={m.id}>
            {m.name}
          </option>
        ))}
      </select>
    </label>
  );
}
