import { clockChange, clockTime, instantOf } from '../../core/units';
import type { MarketConnection } from '../../work/model';

/** What becomes of a local time that the clocks of a marketplace leave out, or show twice. */
export function ClockHint({
  local,
  markets,
}: {
  local: string | null;
  markets: readonly MarketConnection[];
}) {
  if (!local) return null;
  const said = new Map<string, string>();
  for (const { name, site } of markets) {
    const change = clockChange(local, site.zone);
    const at = instantOf(local, site.zone);
    if (!change || at === null || said.has(site.zone)) continue;
    said.set(
      site.zone,
      change === 'left out'
        ? `On ${name} (${site.zone}) the clocks leave ${local.slice(11)} out that night: it is ${clockTime(at, site.zone)} there.`
        : `On ${name} (${site.zone}) ${local.slice(11)} comes twice that night: the first one counts.`,
    );
  }
  return [...said.values()].map((words) => (
    <p key={words} role="status" className="mt-1 text-xs text-lamp">
      {words}
    </p>
  ));
}
