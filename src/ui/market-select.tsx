import type { MarketConnection } from '../work/model';

/** Which marketplace a docket is about; nothing where there is one alone. */
export function MarketSelect({
  markets,
  chosen,
  onChoose,
}: {
  markets: readonly MarketConnection[];
  chosen: string;
  onChoose: (id: string) => void;
}) {
  if (markets.length < 2) return null;
  return (
    <label className="mt-1 flex items-center gap-1.5 text-[13px] text-muted">
      Marketplace
      <select
        value={chosen}
        onChange={(e) => onChoose(e.target.value)}
        className="rounded-sm border border-edge bg-surface px-1.5 py-1 text-ink"
      >
        {markets.map((m) => (
          <option key={m.id} value={m.id}>
            {m.name}
          </option>
        ))}
      </select>
    </label>
  );
}
