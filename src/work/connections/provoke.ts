import { ask } from '../../connect/reach';
import type { Work } from '../context';

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
  const answer = await ask(work.reach, service, `/control/${what}`, {
    method: 'POST',
    headers: { 'content-type': 'application/json' },
    body: JSON.stringify(body),
  });
  return answer.ok ? null : answer.trouble.says;
}
