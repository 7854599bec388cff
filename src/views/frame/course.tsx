'use client';
import Link from 'next/link';
import { usePathname, useRouter } from 'next/navigation';
import { useEffect } from 'react';
import { formatMoney } from '../../core/money';
import { formatCount } from '../../core/units';
import { useCourseOrWhy } from './world';

/** The stops of the work, in its own order, with the key that goes there after `g`. */
export const STOPS = [
  { path: '/today', name: 'Today', key: 't' },
  { path: '/source', name: 'Source', key: 's' },
  { path: '/print-room', name: 'Print room', key: 'r' },
  { path: '/bench', name: 'Bench', key: 'b' },
  { path: '/pricing', name: 'Pricing', key: 'p' },
  { path: '/listings', name: 'Listings', key: 'l' },
  { path: '/orders', name: 'Orders', key: 'o' },
  { path: '/money', name: 'Money', key: 'm' },
] as const;

const COMPACT = new Intl.NumberFormat('en-GB', { notation: 'compact', maximumFractionDigits: 1 });
/** `19k`: what has room beside the name of a stop; small numbers are told whole. */
const short = (n: number, whole: number) => (n < whole ? formatCount(n) : COMPACT.format(n));

/** Milliseconds between two stops that are fetched ahead. */
const FETCH = 400;

export const Boat = () => (
  <svg aria-hidden width="24" height="21" viewBox="0 0 24 21">
    <path d="M0 10.5 4 13h15.5L24 9l-3.2 8.2H3.6z" fill="#E8F0F2" />
    <path d="M6.5 12V8.2a5.5 3.6 0 0 1 11 0V12h-2.2V8.4h-6.6V12z" fill="#FFB03B" />
    <path d="M1 20h6m3 0h7m3 0h3" stroke="#5B7F8B" strokeWidth="1.4" />
  </svg>
);

/**
 * The course across the top: navigation and state in one. A diamond with a number says how many need a
 * person.
 */
export function Course({ onCommands, onHelp }: { onCommands: () => void; onHelp: () => void }) {
  const path = usePathname();
  const { course } = useCourseOrWhy();
  const router = useRouter();
  const drawn = course !== null;
  // The other stops are fetched once this one stands, one after the other.
  useEffect(() => {
    if (!drawn) return;
    const timers = STOPS.map((stop, i) => setTimeout(() => router.prefetch(stop.path), FETCH * (i + 1)));
    return () => {
      for (const timer of timers) clearTimeout(timer);
    };
  }, [drawn, router]);
  const figures: Record<string, [string, number]> = course
    ? {
        '/today': ['', course.needing],
        '/source': [short(course.source, 10_000), 0],
        '/print-room': [course.designs ? short(course.designs, 10_000) : '', 0],
        '/bench': [short(course.bench.all, 1_000), course.bench.lacking],
        '/pricing': [course.plans === 1 ? '1 plan' : `${course.plans} plans`, 0],
        '/listings': [short(course.listings.live + course.listings.paused, 1_000), course.listings.need],
        '/orders': [short(course.orders.open, 1_000), course.orders.need],
        '/money': [formatMoney({ minor: course.today.profit, currency: course.currency }), 0],
      }
    : {};
  return (
    <header className="flex h-[52px] shrink-0 items-stretch gap-4 overflow-x-auto bg-night px-3.5 text-[#E8F0F2]">
      <Link
        href="/today"
        aria-label="Sampan, to Today"
        className="flex items-center gap-2 text-base font-semibold"
      >
        <Boat />
        <span className="max-md:sr-only">Sampan</span>
      </Link>
      <nav aria-label="The course" className="flex grow">
        {STOPS.map((stop, i) => {
          const on = path.startsWith(stop.path);
          const [count, need] = figures[stop.path] ?? ['', 0];
          return (
            <Link
              key={stop.path}
              href={stop.path}
              aria-current={on ? 'page' : undefined}
              title={`g ${stop.key}`}
              className={`relative min-w-[74px] flex-1 pt-2 outline-offset-[-2px] focus-visible:outline-[#FFC46B] ${on ? 'text-white' : 'text-[#B9CDD3] hover:text-white'}`}
            >
              <span className="flex items-baseline gap-1.5 text-[13.5px] font-semibold whitespace-nowrap">
                {stop.name}
                {count && (
                  <span className="text-[12.5px] font-normal text-[#9DB8C0] max-[1180px]:hidden">
                    {count}
                  </span>
                )}
                {need > 0 && (
                  <span className="text-xs text-[#FFC46B]">
                    <span
                      aria-hidden
                      className="mr-1 inline-block size-[7px] rotate-45 bg-[#FFB03B] align-[1px]"
                    />
                    {short(need, 1_000)}
                    <span className="sr-only"> need you</span>
                  </span>
                )}
              </span>
              <span
                aria-hidden
                className={`absolute bottom-[9px] left-0 h-0.5 bg-[#2F5561] ${i === STOPS.length - 1 ? 'w-5' : 'right-0'}`}
              />
              <span
                aria-hidden
                className={`absolute bottom-[5px] left-0 size-2.5 rounded-full border-2 ${on ? 'border-white bg-white ring-3 ring-[#2E7F8D]' : 'border-[#5B7F8B] bg-night'}`}
              />
            </Link>
          );
        })}
      </nav>
      <div className="flex items-center gap-3 text-[13px] text-[#B9CDD3]">
        <Link
          href="/connections"
          aria-current={path.startsWith('/connections') ? 'page' : undefined}
          className="hover:text-white aria-[current]:text-white aria-[current]:underline"
        >
          Connections
        </Link>
        <Link
          href="/settings"
          aria-current={path.startsWith('/settings') ? 'page' : undefined}
          className="hover:text-white aria-[current]:text-white aria-[current]:underline"
        >
          Settings
        </Link>
        <button
          type="button"
          onClick={onCommands}
          aria-label="Ctrl K, commands"
          aria-keyshortcuts="Control+K"
          className="rounded-sm border border-[#3F6470] px-1.5 py-0.5 font-mono text-[11px] text-[#D5E3E7] hover:border-white"
        >
          Ctrl K
        </button>
        <button
          type="button"
          onClick={onHelp}
          aria-label="? Help and keys"
          aria-keyshortcuts="?"
          className="rounded-sm border border-[#3F6470] px-1.5 py-0.5 font-mono text-[11px] text-[#D5E3E7] hover:border-white"
        >
          ?
        </button>
      </div>
    </header>
  );
}
