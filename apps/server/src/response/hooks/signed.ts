import { createHmac } from 'node:crypto';

/** A key as its receivers keep it: `whsec_` and base 64 (Standard Webhooks, "Signature scheme"). */
export const writtenSecret = (key: Buffer): string => `whsec_${key.toString('base64')}`;

/**
 * Headers of a signed delivery after the Standard Webhooks specification 1.0.0: the signature is an HMAC-SHA256 over id,
 * time in seconds, and body, divided by dots.
 */
export function signedHeaders(
  key: Buffer,
  { id, at, body }: { readonly id: string; readonly at: Date; readonly body: string },
): Record<string, string> {
  const seconds = Math.floor(at.getTime() / 1000);
  const signature = createHmac('sha256', key).update(`${id}.${seconds}.${body}`).digest('base64');
  return { 'webhook-id': id, 'webhook-timestamp': String(seconds), 'webhook-signature': `v1,${signature}` };
}
