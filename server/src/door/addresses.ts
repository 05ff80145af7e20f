import { BlockList, isIPv4 } from 'node:net';
import os from 'node:os';

/** Ranges of addresses that lie in a network of one's own: private ones (RFC 1918), shared ones (RFC 6598), link-local ones (RFC 3927), those for tests (RFC 5737), and this machine's. */
export const OWN_RANGES = [
  '10.0.0.0/8',
  '172.16.0.0/12',
  '192.168.0.0/16',
  '100.64.0.0/10',
  '169.254.0.0/16',
  '192.0.2.0/24',
  '198.51.100.0/24',
  '203.0.113.0/24',
  '127.0.0.0/8',
] as const;

const own = new BlockList();
for (const range of OWN_RANGES) {
  const [net = '', bits] = range.split('/');
  own.addSubnet(net, Number(bits));
}

/** Whether an address may be served: one of IPv4 in a network of one's own. */
export const isOwn = (address: string): boolean => isIPv4(address) && own.check(address);

/** The addresses that this machine has in networks of its own, in the order of its interfaces. Public ones are left out: what is to be reached from everywhere belongs behind a proxy. */
export function networkAddresses(): string[] {
  const all = Object.values(os.networkInterfaces()).flatMap((entries) => entries ?? []);
  return [...new Set(all.filter(({ internal, address }) => !internal && isOwn(address)).map(({ address }) => address))];
}

/** The name by which networks that know names find this machine, or nothing if it has none that is fit for it. */
export function localName(): string | undefined {
  const [label = ''] = os.hostname().toLowerCase().split('.');
  return /^[a-z0-9]([a-z0-9-]{0,61}[a-z0-9])?$/.test(label) && label !== 'localhost' ? `${label}.local` : undefined;
}
