import { clockTime, countOf, dayOf, type Instant } from '../../core/units';
import type { AlertRule } from '../../store';
import type { Work } from '../context/work';
import type { Need } from './need';

/** The alerts that were shown, so that none is shown twice. */
export interface AlertState {
  /** Ids of needs. */
  readonly told: readonly string[];
  /** The day whose digest was told of; '' for none. */
  readonly digest: string;
}

export interface Alert {
  readonly title: string;
  readonly body: string;
  readonly href: string;
}

/** Whether a time of the day lies within quiet hours, which may go over midnight; from and to the same is never. */
export const isQuiet = (
  time: string,
  { quietFrom, quietTo }: Pick<AlertRule, 'quietFrom' | 'quietTo'>,
): boolean =>
  quietFrom <= quietTo ? time >= quietFrom && time < quietTo : time >= quietFrom || time < quietTo;

/** Needs named in one alert. */
const NAMED = 3;

/**
 * What a person is to be told now: what newly needs them, all of it in one; or that the day's digest is there. In quiet hours
 * nothing, and what came meanwhile together afterwards. What is over may be told again when it comes back.
 */
export function alertNow(
  rule: AlertRule,
  known: AlertState | null,
  needs: readonly Pick<Need, 'id' | 'what' | 'href'>[],
  at: Instant,
  zone: string,
): { readonly alert: Alert | null; readonly state: AlertState } {
  const ids = needs.map((n) => n.id);
  const [day, time] = [dayOf(at, zone), clockTime(at, zone)];
  const digest = time >= rule.digestAt ? day : (known?.digest ?? '');
  // Who is asked for the first time has seen what stands there.
  if (!known) return { alert: null, state: { told: ids, digest } };
  const standing = known.told.filter((id) => ids.includes(id));
  const waits = { alert: null, state: { ...known, told: standing } };
  if (rule.notify === 'never') return { alert: null, state: { told: ids, digest } };
  if (isQuiet(time, rule)) return waits;
  if (rule.notify === 'digest') {
    if (digest === known.digest) return { alert: null, state: { told: ids, digest } };
    const what = needs.length
      ? `${countOf(needs.length, 'thing')} need${needs.length === 1 ? 's' : ''} you.`
      : '';
    return {
      alert: { title: 'The digest of today', body: what || 'Nothing needs you.', href: '/today/digest' },
      state: { told: ids, digest },
    };
  }
  const fresh = needs.filter((n) => !known.told.includes(n.id));
  if (!fresh.length) return waits;
  const named = fresh.slice(0, NAMED).map((n) => n.what);
  const more = fresh.length - named.length;
  return {
    alert: {
      title: fresh.length === 1 ? fresh[0]!.what : `${countOf(fresh.length, 'thing')} need you`,
      body: fresh.length === 1 ? '' : [...named, ...(more ? [`and ${more} more`] : [])].join('\n'),
      href: fresh.length === 1 ? fresh[0]!.href : '/today',
    },
    state: { told: ids, digest },
  };
}

const NOTE = 'alerts';

/** As {@link alertNow} by the shop's settings; of several tabs one is told. */
export async function takeAlert(
  { db, clock }: Work,
  needs: readonly Pick<Need, 'id' | 'what' | 'href'>[],
): Promise<Alert | null> {
  return db.transaction('rw', [db.notes, db.settings], async () => {
    const settings = await db.settings.get('shop');
    if (!settings?.alerts) return null;
    const known = ((await db.notes.get(NOTE))?.value ?? null) as AlertState | null;
    const { alert, state } = alertNow(settings.alerts, known, needs, clock(), settings.zone);
    if (JSON.stringify(state) !== JSON.stringify(known)) await db.notes.put({ id: NOTE, value: state });
    return alert;
  });
}
