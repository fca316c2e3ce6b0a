import { randomBytes } from 'node:crypto';
import { mkdtempSync, readFileSync, rmSync, statSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { readMasterKeys, writeMasterKeys } from './key-file.js';
import { fingerprint, INSTALLATION, KeyRing } from './key-ring.js';

const [first, second] = [randomBytes(32), randomBytes(32)];

describe('a key ring', () => {
  it('gives a data key back for what it was made for, and for nothing else', () => {
    const ring = new KeyRing([first]);
    const { key, wrapped } = ring.fresh('movement-1');
    expect(ring.unwrap(wrapped)).toEqual(key);
    expect(wrapped.wrapped.includes(key)).toBe(false);
    expect(wrapped.wrapped).toHaveLength(60);
    expect(() => ring.unwrap({ ...wrapped, scope: 'movement-2' })).toThrow();
    const turned = Buffer.from(wrapped.wrapped);
    turned[30] = (turned[30] ?? 0) ^ 1;
    expect(() => ring.unwrap({ ...wrapped, wrapped: turned })).toThrow();
    expect(ring.fresh('movement-1').key).not.toEqual(key);
  });

  it('refuses a master key of another installation in words', () => {
    const { wrapped } = new KeyRing([first]).fresh('m');
    expect(() => new KeyRing([second]).unwrap(wrapped)).toThrow('does not belong to this database');
    // One that lies about its own name is found by the tag.
    expect(() => new KeyRing([second]).unwrap({ ...wrapped, master: fingerprint(second) })).toThrow();
  });

  it('wraps a data key anew for the newest master key, and opens with each until the old one goes', () => {
    const ring = new KeyRing([first]);
    const { key, wrapped } = ring.fresh('m');
    ring.use([second, first]);
    expect(ring.newest).toBe(fingerprint(second));
    const anew = ring.rewrap(wrapped);
    expect([ring.unwrap(wrapped), ring.unwrap(anew)]).toEqual([key, key]);
    ring.use([second]);
    expect(ring.unwrap(anew)).toEqual(key);
    expect(() => ring.unwrap(wrapped)).toThrow('does not belong');
  });

  it('has no key of the installation before it was read', () => {
    const ring = new KeyRing([first]);
    expect(() => ring.installation).toThrow('not read yet');
    const { key, wrapped } = ring.fresh(INSTALLATION);
    ring.useInstallation(wrapped);
    expect(ring.installation).toEqual(key);
  });
});

describe('the file of secrets', () => {
  const folder = mkdtempSync(join(tmpdir(), 'lantern-keys-'));
  const file = join(folder, 'secrets.json');
  afterAll(() => rmSync(folder, { recursive: true, force: true }));

  it('keeps what else stands in it, knows the old name of its key, and is its owner’s alone', async () => {
    writeFileSync(file, JSON.stringify({ databasePassword: 'p', evidenceKey: first.toString('hex') }));
    expect(readMasterKeys(file)).toEqual([first]);
    await writeMasterKeys(file, [second, first]);
    expect(readMasterKeys(file)).toEqual([second, first]);
    await writeMasterKeys(file, [second]);
    expect(JSON.parse(readFileSync(file, 'utf8'))).toEqual({
      databasePassword: 'p',
      masterKey: second.toString('hex'),
    });
    expect(statSync(file).mode & 0o777).toBe(0o600);
  });

  it.each(['', 'ab', 'g'.repeat(64)])('refuses %j as a key', (masterKey) => {
    writeFileSync(file, JSON.stringify({ masterKey }));
    expect(() => readMasterKeys(file)).toThrow('64 hexadecimal digits');
  });
});
