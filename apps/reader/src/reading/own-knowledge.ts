import { createDecipheriv } from 'node:crypto';
import { deserialize } from 'node:v8';
import type { DocumentSource, OwnPattern, RecordSource } from '@lantern/core/detection';

/** Own patterns whose knowledge stays on the server, with that knowledge: held in memory for one run. */
export interface OwnKnowledge {
  readonly own: readonly OwnPattern[];
  readonly records: readonly [string, RecordSource][];
  readonly documents: readonly [string, DocumentSource][];
}

const NONCE_BYTES = 12;
const TAG_BYTES = 16;

/** Opens what the workbench wrote for this reader (AES-256-GCM: nonce, content, tag); throws where it was changed on its way. */
export function openKnowledge(key: Uint8Array, bytes: Buffer): OwnKnowledge {
  const decipher = createDecipheriv('aes-256-gcm', key, bytes.subarray(0, NONCE_BYTES));
  decipher.setAuthTag(bytes.subarray(-TAG_BYTES));
  const content = Buffer.concat([decipher.update(bytes.subarray(NONCE_BYTES, -TAG_BYTES)), decipher.final()]);
  return deserialize(content) as OwnKnowledge;
}
