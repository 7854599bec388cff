'use client';
import { formatCount, spanOf, timetableInWords, WEEKDAYS, whenOf } from '../core/units';
import { theShop } from '../work/desk/client';
import type { Job } from '../work/model';
import { NEVER, TASKS } from '../work/schedule/job';
import { Button } from './button';
import { localZone } from './local-zone';

const MINUTE = 60_000;
const INTERVALS = [1, 2, 5, 15, 60, 360, 1440].map((n) => n * MINUTE);
/** A timetable to begin with. */
const MORNINGS = { time: '06:30', days: [1, 2, 3, 4, 5, 6, 7] };

/** What moves by itself, when, and how it went last. @param zone whose clocks timetables go by */
export function JobsTable({
  jobs,
  paused = false,
  zone,
  now,
}: {
  jobs: readonly Job[];
  /** All of them rest with what they are for. */
  paused?: boolean;
  zone: string;
  now: number;
}) {
  return (
    <table className="mt-3 w-full text-[13px]">
      <thead className="text-left text-xs text-muted">
        <tr>
          {['Task', 'When', 'Last', 'Next', ''].map((h) => (
            <th key={h} scope="col" className="py-1 pr-2 font-normal">
              {h || <span className="sr-only">Run</span>}
            </th>
          ))}
        </tr>
      </thead>
      <tbody>
        {jobs.map((j) => (
          <tr key={j.id} className="border-t border-rule-soft align-top">
            <th scope="row" className="py-1.5 pr-2 text-left font-normal">
              {TASKS[j.task].does}
              <span className={`block text-xs ${j.lastOk ? 'text-muted' : 'text-lamp'}`}>
                {j.running?.total
                  ? `${formatCount(j.running.done)} of ${formatCount(j.running.total)} read`
                  : j.lastSays}
              </span>
            </th>
            <td className="py-1.5 pr-2">
              {j.every === NEVER && !j.timetable ? 'once' : <Timing job={j} zone={zone} />}
            </td>
            <td className="py-1.5 pr-2 whitespace-nowrap">
              {j.lastAt ? whenOf(j.lastAt, now, localZone()) : 'never'}
            </td>
            <td className="py-1.5 pr-2 whitespace-nowrap">
              {paused || j.paused
                ? 'paused'
                : j.running
                  ? 'running'
                  : j.nextAt <= now
                    ? 'now'
                    : j.every === NEVER
                      ? 'when asked'
                      : j.timetable
                        ? whenOf(j.nextAt, now, zone)
                        : `in ${spanOf(j.nextAt - now)}`}
            </td>
            <td className="py-1.5 text-right">
              {j.running?.total ? (
                // Another element than the button before: a click that comes late must not stop what it was to start.
                <Button key="stop" kind="text" className="py-0" onClick={() => theShop().stopJob(j.id)}>
                  Stop
                </Button>
              ) : (
                <Button
                  key="run"
                  kind="text"
                  className="py-0"
                  disabled={paused || j.paused}
                  aria-label={`Run now: ${TASKS[j.task].does}`}
                  onClick={() => theShop().runNow(j.id)}
                >
                  Run now
                </Button>
              )}
              {j.every !== NEVER && (
                <Button
                  kind="text"
                  className="ml-2 py-0"
                  aria-label={`${j.paused ? 'Let go on' : 'Pause'}: ${TASKS[j.task].does}`}
                  onClick={() => theShop().setPaused(j.id, !j.paused)}
                >
                  {j.paused ? 'Go on' : 'Pause'}
                </Button>
              )}
            </td>
          </tr>
        ))}
      </tbody>
    </table>
  );
}

/** How often, or at which time on which days of the week. */
function Timing({ job, zone }: { job: Job; zone: string }) {
  const { every, timetable, task } = job;
  const { does } = TASKS[task];
  const set = (change: Partial<typeof MORNINGS>) =>
    theShop().setTiming(job, { timetable: { ...MORNINGS, ...timetable, ...change } });
  return (
    <>
      <select
        aria-label={`When: ${does}`}
        value={timetable ? 'at' : every}
        onChange={(e) =>
          e.target.value === 'at' ? set({}) : theShop().setTiming(job, { every: Number(e.target.value) })
        }
        className="rounded-sm border border-edge bg-surface"
      >
        {[...new Set([...INTERVALS, every])]
          .sort((a, b) => a - b)
          .map((ms) => (
            <option key={ms} value={ms}>
              every {spanOf(ms)}
            </option>
          ))}
        <option value="at">at a time</option>
      </select>
      {timetable && (
        <fieldset className="mt-1 text-xs">
          <legend className="text-muted">
            {timetableInWords(timetable)}, {zone}
          </legend>
          <input
            type="time"
            aria-label={`Time: ${does}`}
            value={timetable.time}
            required
            onChange={(e) => e.target.value && set({ time: e.target.value })}
            className="rounded-sm border border-edge bg-surface px-1"
          />
          <span className="mt-1 flex gap-1.5">
            {WEEKDAYS.map((name, at) => {
              const on = timetable.days.includes(at + 1);
              return (
                <label key={name} className="flex flex-col items-center">
                  <input
                    type="checkbox"
                    checked={on}
                    // It runs on one day at least; to rest it there is Pause.
                    disabled={on && timetable.days.length === 1}
                    onChange={() =>
                      set({
                        days: on
                          ? timetable.days.filter((d) => d !== at + 1)
                          : [...timetable.days, at + 1].sort(),
                      })
                    }
                  />
                  {name}
                </label>
              );
            })}
          </span>
        </fieldset>
      )}
    </>
  );
}
