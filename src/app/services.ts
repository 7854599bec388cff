import type { Service } from '../work/connections/connections';

/** A service this server may be asked to reach, with its origin. */
export interface KnownService extends Service {
  readonly origin: string;
}

/**
 * The services in reach, set by who starts the server (`SAMPAN_SERVICES`, JSON). No other host is ever asked.
 */
export function knownServices(): KnownService[] {
  const text = process.env.SAMPAN_SERVICES;
  return text ? (JSON.parse(text) as KnownService[]) : [];
}
