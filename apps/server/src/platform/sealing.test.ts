import { randomBytes } from 'node:crypto';
import { seal, unseal, unsealHere } from './sealing.js';

describe('seal', () => {
  const key = randomBytes(32);
  const content = Buffer.from('card 4111 1111 1111 1111 '.repeat(100));

  it('gives back what went in and shows nothing of it', async () => {
    const sealed = await seal(key, 'row-1', content);
    expect(await unseal(key, 'row-1', sealed)).toEqual(content);
    expect(sealed.includes('4111')).toBe(false);
    expect(sealed.length).toBeLessThan(content.length);
  });

  it.each([0, 1, 255, 256, 257])('gives back %d bytes, compressed or not', async (length) => {
    const bytes = Buffer.alloc(length, 'x');
    const sealed = await seal(key, 'row', bytes);
    expect(await unseal(key, 'row', sealed)).toEqual(bytes);
    expect(unsealHere(key, 'row', sealed)).toEqual(bytes);
    // Claiming the other way of writing must not pass.
    sealed[0] = sealed[0] === 1 ? 2 : 1;
    await expect(unseal(key, 'row', sealed)).rejects.toThrow();
  });

  it('never gives the same bytes twice', async () =>
    expect(await seal(key, 'r', content)).not.toEqual(await seal(key, 'r', content)));

  it.each([
    ['another key', async () => unseal(randomBytes(32), 'row-1', await seal(key, 'row-1', content))],
    ['another row', async () => unseal(key, 'row-2', await seal(key, 'row-1', content))],
    [
      'a changed byte',
      async () => {
        const sealed = await seal(key, 'row-1', content);
        sealed[40] = (sealed[40] ?? 0) ^ 1;
        return unseal(key, 'row-1', sealed);
      },
    ],
  ])('refuses to open with %s', (_name, open) => expect(open()).rejects.toThrow());
});
