import { lookup } from 'node:dns';
import { request as httpRequest, type IncomingMessage } from 'node:http';
import { request as httpsRequest } from 'node:https';
import { isIP, type LookupFunction } from 'node:net';
import { isPublic } from './address-range';

/** Which hosts lists may be fetched from. */
export interface Allowed {
  /** Host names, `*` for any, `*.example` for all below; with `:port` where only that port is meant. */
  readonly hosts: readonly string[];
  /** Hosts (`name:port`) that may lead into the machine's own network. */
  readonly inside: readonly string[];
  /** Hosts of the made-up world by where their stand-in is: what is asked of one goes there. */
  readonly standIns?: Readonly<Record<string, string>>;
}

export class Forbidden extends Error {}

const REDIRECTS = 4;
const PATIENCE = 120_000;

const portOf = (url: URL) => url.port || (url.protocol === 'https:' ? '443' : '80');

function isListed(url: URL, hosts: readonly string[]): boolean {
  const host = url.hostname.toLowerCase();
  return hosts.some((h) => {
    const [name, port] = h.toLowerCase().split(/:(?=\d+$)/);
    const named = name === '*' || host === name || (name!.startsWith('*.') && host.endsWith(name!.slice(1)));
    return named && (!port || port === portOf(url));
  });
}

/** What is wrong with going to an address, before any name is looked up; null where nothing is. */
export function addressProblem(text: string, allowed: Allowed): string | null {
  let url: URL;
  try {
    url = new URL(text);
  } catch {
    return 'This is not an address. It begins with https:// and names a host.';
  }
  if (url.protocol !== 'https:' && url.protocol !== 'http:')
    return `Addresses of the kind ${url.protocol} are not fetched; https: and http: are.`;
  if (url.username || url.password) return 'The address has a name or password in it. Those are not sent.';
  const inside = isListed(url, allowed.inside);
  if (!inside && !isListed(url, allowed.hosts))
    return `${url.hostname} is not among the hosts this server may fetch lists from (${allowed.hosts.join(', ') || 'none'}). Whoever runs it can add it to SAMPAN_LIST_HOSTS.`;
  const bare = url.hostname.replace(/^\[|\]$/g, '');
  if (!inside && isIP(bare) && !isPublic(bare))
    return 'The address leads into this machine’s own network. That is not fetched.';
  return null;
}

/**
 * Looks a name up and hands on only public addresses; the connection is made to exactly these, so that a name
 * cannot turn inwards between look and call.
 */
const publicLookup: LookupFunction = (hostname, options, done) => {
  lookup(hostname, { ...options, all: true }, (error, found) => {
    const list = (found ?? []) as { address: string; family: number }[];
    const inner = list.find((f) => !isPublic(f.address));
    const [first] = list;
    if (error || !first) done(error ?? new Error('no such host'), '', 0);
    else if (inner)
      done(new Forbidden('The address leads into this machine’s own network. That is not fetched.'), '', 0);
    else if (options.all) done(null, list as never, 0);
    else done(null, first.address, first.family);
  });
};

function atStandIn(address: string, { standIns = {} }: Allowed): string {
  const url = URL.canParse(address) ? new URL(address) : null;
  const origin = url && Object.hasOwn(standIns, url.host) ? standIns[url.host] : undefined;
  return url && origin ? origin + url.pathname + url.search : address;
}

/**
 * Fetches an address under the rules, following a few redirects, each under the same rules. @throws Forbidden
 * where a rule says no
 */
export async function fetchOutside(
  text: string,
  headers: Readonly<Record<string, string>>,
  allowed: Allowed,
): Promise<{ answer: IncomingMessage; url: URL }> {
  let at = atStandIn(text, allowed);
  for (let hop = 0; hop <= REDIRECTS; hop++) {
    const problem = addressProblem(at, allowed);
    if (problem) throw new Forbidden(problem);
    const url = new URL(at);
    const ask = url.protocol === 'https:' ? httpsRequest : httpRequest;
    const answer = await new Promise<IncomingMessage>((resolve, reject) => {
      const request = ask(
        url,
        {
          headers: { ...headers, 'user-agent': 'Sampan' },
          lookup: isListed(url, allowed.inside) ? undefined : publicLookup,
          timeout: 20_000,
        },
        resolve,
      );
      request.on('timeout', () => request.destroy(new Error('timeout')));
      request.on('error', reject);
      setTimeout(() => request.destroy(new Error('timeout')), PATIENCE).unref();
      request.end();
    });
    const status = answer.statusCode ?? 0;
    if (status < 300 || status >= 400 || status === 304 || !answer.headers.location) return { answer, url };
    answer.resume();
    at = atStandIn(new URL(answer.headers.location, url).href, allowed);
  }
  throw new Forbidden('The address sends on and on to other addresses.');
}
