'use client';
import type { Going } from '../../../core/forwarding';
import { WEEKDAYS } from '../../../core/units';

const FIELD = 'rounded-sm border border-edge bg-surface px-1.5 py-0.5';

/** When something goes: at once, after a wait, at set hours, or by a person's word. */
export function GoingFields({
  label,
  going,
  zone,
  words,
  onChange,
}: {
  label: string;
  going: Going;
  zone: string;
  words: Readonly<Record<Going['kind'], string>>;
  onChange: (going: Going) => void;
}) {
  const begin: Record<Going['kind'], Going> = {
    'at once': { kind: 'at once' },
    wait: { kind: 'wait', minutes: 60 },
    hours: { kind: 'hours', zone, days: [1, 2, 3, 4, 5], times: ['09:00'] },
    'by hand': { kind: 'by hand' },
  };
  return (
    <div className="flex flex-wrap items-center gap-2">
      <select
        aria-label={label}
        value={going.kind}
        onChange={(e) => onChange(begin[e.target.value as Going['kind']])}
        className={FIELD}
      >
        {Object.entries(words).map(([kind, says]) => (
          <option key={kind} value={kind}>
            {says}
          </option>
        ))}
      </select>
      {going.kind === 'wait' && (
        <label>
          of{' '}
          <input
            type="number"
            min={1}
            max={10_080}
            value={going.minutes}
            onChange={(e) => {
              const minutes = Math.round(Number(e.target.value));
              if (minutes >= 1 && minutes <= 10_080) onChange({ ...going, minutes });
            }}
            className={`${FIELD} w-20 text-right`}
          />{' '}
          minutes
        </label>
      )}
      {going.kind === 'hours' && (
        <>
          <label>
            at{' '}
            <input
              aria-label="Times of the day"
              defaultValue={going.times.join(', ')}
              onBlur={(e) => {
                const times = e.target.value
                  .split(/[,; ]+/)
                  .filter((t) => /^([01]\d|2[0-3]):[0-5]\d$/.test(t));
                if (times.length) onChange({ ...going, times: times.sort() });
                else e.target.value = going.times.join(', ');
              }}
              className={`${FIELD} w-32`}
            />
          </label>
          <span className="flex gap-1.5">
            {WEEKDAYS.map((name, at) => {
              const on = going.days.includes(at + 1);
              const days = on ? going.days.filter((d) => d !== at + 1) : [...going.days, at + 1].sort();
              return (
                <label key={name} className="text-xs">
                  <input
                    type="checkbox"
                    className="mr-0.5 accent-river"
                    checked={on}
                    disabled={on && going.days.length === 1}
                    onChange={() => onChange({ ...going, days })}
                  />
                  {name}
                </label>
              );
            })}
          </span>
          <select
            aria-label="Time zone"
            value={going.zone}
            onChange={(e) => onChange({ ...going, zone: e.target.value })}
            className={FIELD}
          >
            {[...new Set([going.zone, zone, ...Intl.supportedValuesOf('timeZone')])].map((z) => (
              <option key={z}>{z}</option>
            ))}
          </select>
        </>
      )}
    </div>
  );
}
