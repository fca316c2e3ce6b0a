import { generate } from 'otplib';
import { newFactor, newRecoveryCodes, recoveryHash, stepOf } from './second-factor.js';

/** RFC 6238, appendix B: the secret of its SHA-1 vectors, ASCII 12345678901234567890, in base 32. */
const SECRET = 'GEZDGNBVGY3TQOJQGEZDGNBVGY3TQOJQ';

describe('codes of a second factor', () => {
  it.each([
    [59, '94287082'],
    [1111111109, '07081804'],
    [1111111111, '14050471'],
    [1234567890, '89005924'],
    [2000000000, '69279037'],
    [20000000000, '65353130'],
  ])('are those of RFC 6238 at second %d', async (epoch, code) =>
    expect(await generate({ secret: SECRET, epoch, digits: 8 })).toBe(code),
  );

  const now = () => Math.floor(Date.now() / 1000);

  it('are taken a step early or late, and never twice', async () => {
    for (const off of [-29, 0, 29]) {
      const code = await generate({ secret: SECRET, epoch: now() + off });
      const step = await stepOf(SECRET, code, null);
      expect(step).not.toBeNull();
      expect(await stepOf(SECRET, code, step)).toBeNull();
    }
  });

  it('are refused two minutes late, for another secret, and of another form', async () => {
    expect(await stepOf(SECRET, await generate({ secret: SECRET, epoch: now() - 120 }), null)).toBeNull();
    expect(
      await stepOf(newFactor('a@b.example').secret, await generate({ secret: SECRET }), null),
    ).toBeNull();
    for (const code of ['', '12345', '1234567', 'abcdef', '１２３４５６'])
      expect(await stepOf(SECRET, code, null)).toBeNull();
  });

  it('are set up by an address that names the workbench and the account', () => {
    const { uri, secret } = newFactor('ines@a.example');
    expect(uri).toMatch(/^otpauth:\/\/totp\/Uncut%20Lantern:ines%40a\.example\?/);
    expect(uri).toContain(secret);
  });

  it('have ten recovery codes beside them, the same however they are typed', () => {
    const codes = newRecoveryCodes();
    expect(new Set(codes).size).toBe(10);
    for (const code of codes) expect(code).toMatch(/^[a-z2-9]{5}-[a-z2-9]{5}$/);
    expect(recoveryHash(` ${codes[0]!.toUpperCase().replace('-', '')} `)).toBe(recoveryHash(codes[0]!));
  });
});
