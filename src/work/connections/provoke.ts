import { ask, type Result } from '../../connect/reach';
import type { Work } from '../context/work';

/**
 * Asks a stand-in to do something out of the ordinary, through its control door. Only where Sampan was
 * started with stand-ins.
 */
export async function provoke(
  work: Work,
  service: string,
  what: string,
  body: unknown,
): Promise<string | null> {
  const answer = await asked(work, service, what, body);
  return answer.ok ? null : answer.trouble.says;
}

const asked = (
  work: Work,
  service: string,
  what: string,
  body: unknown,
): Promise<Result<{ readonly body: unknown }>> =>
  ask(work.reach, service, `/control/${what}`, {
    method: 'POST',
    headers: { 'content-type': 'application/json' },
    body: JSON.stringify(body),
  });

/** The text that a stand-in answers; the reason where it does not. */
export async function answeredText(
  work: Work,
  service: string,
  what: string,
  body: unknown,
): Promise<{ readonly ok: true; readonly text: string } | { readonly ok: false; readonly reason: string }> {
  const answer = await asked(work, service, what, body);
  if (!answer.ok) return { ok: false, reason: answer.trouble.says };
  const { text } = (answer.value.body ?? {}) as { text?: unknown };
  return typeof text === 'string' ? { ok: true, text } : { ok: false, reason: 'The answer has no text.' };
}
