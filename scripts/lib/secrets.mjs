import { randomBytes } from 'node:crypto';
import { existsSync, mkdirSync, readFileSync, writeFileSync } from 'node:fs';
import { dirname } from 'node:path';

/** Keys of an installation: made once, kept outside the database, readable by its owner only. */
export function readSecrets(file) {
  if (existsSync(file)) return JSON.parse(readFileSync(file, 'utf8'));
  const secrets = {
    databasePassword: randomBytes(24).toString('hex'),
    evidenceKey: randomBytes(32).toString('hex'),
  };
  mkdirSync(dirname(file), { recursive: true });
  writeFileSync(file, JSON.stringify(secrets, null, 2), { mode: 0o600 });
  return secrets;
}
