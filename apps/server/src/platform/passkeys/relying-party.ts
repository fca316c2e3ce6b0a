import { isIP } from 'node:net';
import type { Config } from '../config.js';

/** Under which name and from which addresses passkeys are taken (WebAuthn Level 3, 5.1.2: an id is a domain). */
export interface RelyingParty {
  readonly id: string;
  readonly origin: string;
}

/** A workbench that is reached by the number of this machine takes passkeys under its name, which browsers allow. */
export function relyingParty({ address }: Pick<Config, 'address'>): RelyingParty {
  const url = new URL(address);
  const isLoopback = url.hostname === '127.0.0.1' || url.hostname === '[::1]';
  if (isLoopback) url.hostname = 'localhost';
  return { id: url.hostname, origin: url.origin };
}

/** Whether passkeys can be had at all: not where the workbench is reached by the number of another machine. */
export const hasName = ({ id }: RelyingParty): boolean => isIP(id.replace(/^\[|\]$/gu, '')) === 0;
