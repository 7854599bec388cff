'use client';
import Link from 'next/link';
import { countOf, formatCount, spanOf } from '../../core/units';
import { useFeedOrWhy } from '../../ui/asked';
import { useNow } from '../../ui/clock';
import { theShop } from '../../work/desk/client';
import type { Job } from '../../work/model';
import { TASKS } from '../../work/schedule/job';
import { useStorage } from './storage';
import { useCourseOrWhy } from './world';

function Bar({ done, total }: { done: number; total: number }) {
  return (
    <span
      role="progressbar"
      aria-valuenow={done}
      aria-valuemax={total}
      aria-label="Progress"
      className="mx-2 inline-block h-[5px] w-24 bg-rule align-[2px]"
    >
      <span
        className="block h-full bg-river"
        style={{ width: `${total ? Math.min(100, (done / total) * 100) : 0}%` }}
      />
    </span>
  );
}

/** @param ill whether the other side does not answer: then no time can be told */
function left(job: Job, now: number, ill: boolean): string {
  const { running } = job;
  if (ill) return ' · waits';
  if (!running || running.done === 0 || running.total === 0) return '';
  return ` · ${spanOf(((now - running.startedAt) / running.done) * (running.total - running.done))} left`;
}

const StopButton = ({ onClick, label }: { onClick: () => void; label: string }) => (
  <button
    type="button"
    onClick={onClick}
    aria-label={label}
    className="ml-1 font-semibold text-river hover:underline"
  >
    Stop
  </button>
);

/** The running job with a way to stop it, the next job, the state of the connections, and the age of the data. */
export function StatusLine() {
  const now = useNow(1_000);
  const { course, why } = useCourseOrWhy();
  const [storage, keepStorage] = useStorage();
  const { told: seen } = useFeedOrWhy('running');
  const nameOf = (id: string) => seen?.connections.get(id)?.name ?? seen?.feeds.get(id) ?? id;
  const running = seen?.jobs.filter((j) => j.running && j.running.total > 0) ?? [];
  const next = seen?.jobs
    .filter((j) => !j.running && !seen.connections.get(j.subject)?.paused && j.nextAt - now < 30 * 86_400_000)
    .sort((a, b) => a.nextAt - b.nextAt)[0];
  // The oldest stands for none but itself: it is named. Lists that are dropped by hand have no schedule, but an age.
  const oldest = seen?.jobs
    .filter(
      (j) => (j.task === 'catalogue' || j.task === 'list') && j.lastAt && seen.connections.has(j.subject),
    )
    .reduce<Map<string, number>>(
      (by, j) => by.set(j.subject, Math.max(by.get(j.subject) ?? 0, j.lastAt!)),
      new Map(),
    );
  const [eldest] = [...(oldest ?? [])].sort((a, b) => a[1] - b[1]);
  const ill = [...(seen?.connections.values() ?? [])].flatMap((c) => {
    const trouble = seen?.health.get(c.id)?.trouble;
    return trouble ? [{ ...c, trouble }] : [];
  });
  const shown = running.slice(0, ill.length ? 1 : 2);
  return (
    <footer className="flex h-[26px] shrink-0 items-center gap-5 overflow-hidden border-t border-rule bg-foot px-3.5 text-[12.5px] whitespace-nowrap text-muted">
      {shown.map((j) => (
        <span key={j.id}>
          {nameOf(j.subject)} {TASKS[j.task].name}
          <Bar done={j.running!.done} total={j.running!.total} />
          {j.running!.rows === undefined || j.running!.rows === j.running!.done
            ? `${formatCount(j.running!.done)} of ${formatCount(j.running!.total)}`
            : `${countOf(j.running!.rows, 'row')}, ${Math.floor((j.running!.done / j.running!.total) * 100)} %`}
          {left(
            j,
            now,
            ill.some((c) => c.id === j.subject),
          )}
          <StopButton
            label={`Stop ${nameOf(j.subject)} ${TASKS[j.task].name}`}
            onClick={() => theShop().stopJob(j.id)}
          />
        </span>
      ))}
      {running.length > shown.length && (
        <Link href="/connections" className="font-semibold text-river hover:underline">
          {formatCount(running.length - shown.length)} more running
        </Link>
      )}
      {course && course.listings.publishing > 0 && (
        <span>
          Publishing, {countOf(course.listings.publishing, 'listing')} to go
          <StopButton label="Stop publishing" onClick={() => theShop().stopPublishing()} />
        </span>
      )}
      {course && course.toSend > 0 && <span>{countOf(course.toSend, 'message')} to send</span>}
      {why && <span className="text-loss">Counts cannot be told: {why}</span>}
      {seen?.error && now - seen.error.at < 60_000 && (
        <span className="text-loss">A job failed: {seen.error.says}</span>
      )}
      {ill.map((c) => (
        <Link
          key={c.id}
          href={`/connections?row=${c.id}`}
          className="font-semibold text-lamp hover:underline"
        >
          {c.name}: {c.trouble.says}
        </Link>
      ))}
      <span className="grow" />
      {next && now > 0 && (
        <span>
          Next: {nameOf(next.subject)} {TASKS[next.task].name}{' '}
          {next.nextAt > now ? `in ${spanOf(next.nextAt - now)}` : 'now'}
        </span>
      )}
      {eldest && now > 0 && (
        <span title="The stock that was read longest ago">
          Oldest stock: {nameOf(eldest[0])}, {spanOf(now - eldest[1])}
        </span>
      )}
      {storage && (
        <span>
          {storage.bytes !== null &&
            storage.bytes >= 500_000 &&
            `${formatCount(Math.round(storage.bytes / 1_000_000))} MB, `}
          {storage.kept ? (
            'storage kept'
          ) : (
            <button
              type="button"
              title="This browser may clear the shop when its disk is full. Asks it for persistent storage."
              className="underline"
              onClick={keepStorage}
            >
              storage may be cleared: make it persistent
            </button>
          )}
        </span>
      )}
    </footer>
  );
}
