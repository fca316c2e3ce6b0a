import { createHash } from 'node:crypto';
import { HASHED_AT_ONCE, hashInSlices } from './hash-in-slices.js';

it.each([0, 1, HASHED_AT_ONCE - 1, HASHED_AT_ONCE, HASHED_AT_ONCE + 1, 3 * HASHED_AT_ONCE + 7])(
  'gives the same for %s bytes as hashing them in one go',
  async (length) => {
    const bytes = new Uint8Array(length).map((_byte, at) => (at * 31) % 251);
    const hash = createHash('sha256');
    await hashInSlices(hash, bytes);
    expect(hash.digest('hex')).toBe(createHash('sha256').update(bytes).digest('hex'));
  },
);

it('lets others have their turn in between', async () => {
  let turns = 0;
  const timer = setInterval(() => (turns += 1), 0);
  await hashInSlices(createHash('sha256'), new Uint8Array(40 * HASHED_AT_ONCE));
  clearInterval(timer);
  expect(turns).toBeGreaterThan(5);
});
