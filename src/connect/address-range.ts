import ipaddr from 'ipaddr.js';

const GLOBAL = ipaddr.parseCIDR('2000::/3') as [ipaddr.IPv6, number];

/**
 * Whether an IP address belongs to the public network: not this machine, not a private, link-local, reserved
 * or embedding range.
 */
export function isPublic(address: string): boolean {
  if (!ipaddr.isValid(address)) return false;
  const parsed = ipaddr.process(address);
  if (parsed.range() !== 'unicast') return false;
  // Of IPv6 only what is given out to the public (RFC 4291, section 2.4): forms that hold an address of IPv4,
  // such as `::7f00:1`, and old local ones are not.
  return parsed instanceof ipaddr.IPv4 || parsed.match(GLOBAL);
}

/** Names of hosts that mean something within one machine or network only (RFC 6761, RFC 6762, RFC 8375). */
const LOCAL_NAME = /(^|\.)(localhost|local|internal|home\.arpa)$/;

/** Whether an address leads to the same place for others as for us: a web address of a public host, no path of a service. */
export function isForOthers(text: string): boolean {
  if (!URL.canParse(text)) return false;
  const { protocol, hostname, username, password } = new URL(text);
  if ((protocol !== 'https:' && protocol !== 'http:') || username || password) return false;
  const host = hostname.replace(/^\[|\]$/g, '').toLowerCase();
  return ipaddr.isValid(host) ? isPublic(host) : host.includes('.') && !LOCAL_NAME.test(host);
}
