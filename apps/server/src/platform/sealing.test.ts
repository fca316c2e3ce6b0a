import { randomBytes } from 'node:crypto';
import { seal, unseal } from './sealing.js';

describe('seal', () => {
  const key = randomBytes(32);
  const content = Buffer.from('card 4111 1111 1111 1111 '.repeat(100));

  it('gives back what went in and shows nothing of it', () => {
    const sealed = seal(key, 'row-1', content);
    expect(unseal(key, 'row-1', sealed)).toEqual(content);
    expect(sealed.includes('4111')).toBe(false);
    expect(sealed.length).toBeLessThan(content.length);
  });

  it('never gives the same bytes twice', () =>
    expect(seal(key, 'r', content)).not.toEqual(seal(key, 'r', content)));

  it.each([
    ['another key', () => unseal(randomBytes(32), 'row-1', seal(key, 'row-1', content))],
    ['another row', () => unseal(key, 'row-2', seal(key, 'row-1', content))],
    [
      'a changed byte',
      () => {
        const sealed = seal(key, 'row-1', content);
        sealed[40] = (sealed[40] ?? 0) ^ 1;
        return unseal(key, 'row-1', sealed);
      },
    ],
  ])('refuses to open with %s', (_name, open) => expect(open).toThrow());
});
