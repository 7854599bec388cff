import { knownServices } from '../../services';

export const dynamic = 'force-dynamic';

/** What can be connected, and whether a recorded past waits to be loaded. */
export function GET() {
  const services = knownServices().map(({ origin, ...service }) => ({
    ...service,
    ...(service.role === 'marketplace' && { consent: `${origin}/consent` }),
  }));
  return Response.json({
    services,
    recorded: Boolean(process.env.SAMPAN_RECORDED),
    standIns: process.env.SAMPAN_STAND_INS === '1',
  });
}
