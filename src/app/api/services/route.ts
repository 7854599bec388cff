import { existsSync, statSync } from 'node:fs';
import { knownServices } from '../../services';

export const dynamic = 'force-dynamic';

/** What can be connected, and how many bytes of a recorded past wait to be loaded. */
export function GET() {
  const file = process.env.SAMPAN_RECORDED;
  const services = knownServices().map(({ origin, ...service }) => ({
    ...service,
    ...(service.role === 'marketplace' && { consent: `${origin}/consent` }),
  }));
  return Response.json({
    services,
    recorded: file && existsSync(file) ? statSync(file).size : 0,
    standIns: process.env.SAMPAN_STAND_INS === '1',
  });
}
