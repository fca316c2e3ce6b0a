import { randomBytes } from 'node:crypto';
import { existsSync, mkdirSync, readFileSync, writeFileSync } from 'node:fs';
import { dirname } from 'node:path';

/**
 * Account that may delete entries of the audit trail. The server never has it: what an intruder does with the server's
 * account stays in the trail.
 */
export const KEEPER = 'keeper';

/** The database that holds the trail of another one. */
export const trailOf = (database) => `trail_of_${database}`;

/** Its password, made once, in a file of its own beside the secrets that the server reads. */
export function readKeeperPassword(file) {
  if (existsSync(file)) return JSON.parse(readFileSync(file, 'utf8')).password;
  const password = randomBytes(24).toString('hex');
  mkdirSync(dirname(file), { recursive: true });
  writeFileSync(file, JSON.stringify({ password }, null, 2), { mode: 0o600 });
  return password;
}

/** Tables of a trail: its entries, and where the parts ended that were deleted by age. */
export function trailTables(database) {
  const trail = `\`${trailOf(database)}\``;
  return [
    `CREATE DATABASE IF NOT EXISTS ${trail} CHARACTER SET utf8mb4;`,
    `CREATE TABLE IF NOT EXISTS ${trail}.trail_entry (
      number int NOT NULL PRIMARY KEY, at datetime(3) NOT NULL, actor varchar(254) NOT NULL,
      action varchar(80) NOT NULL, target varchar(254) NOT NULL, facts json NOT NULL,
      previous char(64) NOT NULL, hash char(64) NOT NULL,
      KEY trail_actor (actor, number), KEY trail_action (action, number)) ENGINE=InnoDB;`,
    `CREATE TABLE IF NOT EXISTS ${trail}.trail_segment (
      number int NOT NULL PRIMARY KEY, hash char(64) NOT NULL, signature char(64) NOT NULL,
      firstAt datetime(3) NOT NULL, lastAt datetime(3) NOT NULL, removedAt datetime(3) NOT NULL) ENGINE=InnoDB;`,
  ];
}

/** What the server's account may do with trails whose names fit, and what the keeper's may. `%` and `_` stand for others. */
export function trailGrants(pattern, { user, mayFill = false }) {
  const trail = `\`${pattern}\``;
  return [
    `GRANT ${mayFill ? 'ALL' : 'SELECT, INSERT'} ON ${trail}.* TO '${user}'@'127.0.0.1';`,
    `GRANT ALL ON ${trail}.* TO '${KEEPER}'@'127.0.0.1';`,
  ];
}
