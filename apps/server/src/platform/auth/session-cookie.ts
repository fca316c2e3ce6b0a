import type { CookieOptions } from 'express';
import type { Config } from '../config.js';

/** The cookie that carries a session. */
export interface SessionCookie {
  readonly name: string;
  readonly options: CookieOptions;
}

/**
 * Behind TLS the cookie is sent over TLS alone, and its name keeps other hosts of the domain from setting one
 * (RFC 6265bis, 4.1.3.2). Over plain loopback, browsers would not take such a cookie.
 */
export function sessionCookie({ address }: Pick<Config, 'address'>): SessionCookie {
  const options = { httpOnly: true, sameSite: 'strict', path: '/' } as const;
  return isBehindTls({ address })
    ? { name: '__Host-lantern', options: { ...options, secure: true } }
    : { name: 'lantern_session', options };
}

export function isBehindTls({ address }: Pick<Config, 'address'>): boolean {
  return address.toLowerCase().startsWith('https:');
}
