import { byLine, type LineUnits, unitsOf } from '../../core/orders';
import { type ToldOrder, textOf } from './buyer-words';

/** How many units of each line are meant. */
export function UnitPicker({
  legend,
  order,
  most,
  chosen,
  onChoose,
}: {
  legend: string;
  order: Pick<ToldOrder, 'lines' | 'texts'>;
  most: readonly LineUnits[];
  chosen: readonly LineUnits[];
  onChoose: (chosen: readonly LineUnits[]) => void;
}) {
  const choose = (line: string, units: number) =>
    onChoose(byLine([...chosen.filter((u) => u.line !== line), { line, units }]));
  return (
    <fieldset className="mt-1 text-xs text-muted">
      <legend>{legend}</legend>
      {most.map(({ line, units }) => {
        const l = order.lines.find((one) => one.id === line);
        const n = Math.min(units, unitsOf(chosen, line));
        const what = (
          <span key="what" className="text-ink">
            {l?.title}
            {l && l.personalisation !== null && (
              <span className="text-lamp"> {textOf(order, l.personalisation)}</span>
            )}
          </span>
        );
        return units === 1 ? (
          <label key={line} className="mt-0.5 flex items-center gap-2">
            <input
              type="checkbox"
              checked={n > 0}
              onChange={(e) => choose(line, e.target.checked ? 1 : 0)}
              className="mx-1 accent-river"
            />
            {what}
          </label>
        ) : (
          <label key={line} className="mt-0.5 flex items-center gap-2">
            <input
              type="number"
              min={0}
              max={units}
              value={n}
              onChange={(e) =>
                choose(line, Math.max(0, Math.min(units, Math.trunc(Number(e.target.value) || 0))))
              }
              className="w-14 rounded-sm border border-edge bg-surface px-1 py-0.5 text-right text-ink"
            />
            <span className="shrink-0">of {units} ×</span> {what}
          </label>
        );
      })}
    </fieldset>
  );
}
