import { randomBytes } from 'node:crypto';
import { existsSync, mkdirSync, readFileSync, writeFileSync } from 'node:fs';
import { dirname } from 'node:path';

/** Keys of an installation: made once, kept outside the database, readable by its owner only. */
export function readSecrets(file) {
  if (existsSync(file)) return withMasterKey(JSON.parse(readFileSync(file, 'utf8')));
  const secrets = {
    databasePassword: randomBytes(24).toString('hex'),
    masterKey: randomBytes(32).toString('hex'),
  };
  mkdirSync(dirname(file), { recursive: true });
  writeFileSync(file, JSON.stringify(secrets, null, 2), { mode: 0o600 });
  return secrets;
}

/** In files from before there were data keys, the master key has another name. */
export function withMasterKey({ evidenceKey, ...secrets }) {
  return { ...secrets, masterKey: secrets.masterKey ?? evidenceKey };
}

/** Master keys of an installation, the newest first: more than one while they are changed. */
export function readMasterKeys(file) {
  const { masterKey, earlierKeys = [] } = withMasterKey(JSON.parse(readFileSync(file, 'utf8')));
  return [masterKey, ...earlierKeys].map((key) => Buffer.from(key, 'hex'));
}
