/** The part of an address behind its last `@`, or a host name, lower case; empty where it is neither. */
export function domainOf(address: string): string {
  const at = address.lastIndexOf('@');
  if (at === -1) return isDomain(address) ? address.toLowerCase() : '';
  return address.slice(at + 1).toLowerCase();
}

/** Whether `host` is `domain` or stands under it: `evilpartner.example` is not under `partner.example`. */
export function isUnder(host: string, domain: string): boolean {
  const wanted = domain.toLowerCase();
  return host === wanted || host.endsWith(`.${wanted}`);
}

const DOMAIN = /^(?=.{1,253}$)(?:[a-z0-9](?:[a-z0-9-]{0,61}[a-z0-9])?\.)+[a-z0-9][a-z0-9-]{0,61}[a-z0-9]$/i;

/** Whether something is written like a domain name with at least two parts (RFC 1123, section 2.1). */
export function isDomain(text: string): boolean {
  return DOMAIN.test(text);
}
