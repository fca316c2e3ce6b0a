import { chance, someMovement, someSet } from '@lantern/testkit';
import { compilePolicies } from './judge.js';
import { keepMovement, type KeptMovement, unkeepMovement } from './kept-movement.js';

describe('a kept movement, seed 404', () => {
  const random = chance(404);
  const cases = Array.from({ length: 400 }, () => ({ set: someSet(random), movement: someMovement(random) }));

  it('is judged as the movement was, through text and back', () => {
    for (const { set, movement } of cases) {
      const judge = compilePolicies(set);
      const kept = JSON.parse(JSON.stringify(keepMovement(movement))) as KeptMovement;
      expect(judge.judge(unkeepMovement(kept, null))).toEqual(judge.judge(movement));
      expect(judge.judge(unkeepMovement(kept, judge.asked))).toEqual(judge.judge(movement));
    }
  });

  it('is the same however often it is kept', () => {
    for (const { movement } of cases) {
      const kept = keepMovement(movement);
      expect(keepMovement(unkeepMovement(kept, null))).toEqual(kept);
    }
  });

  it('leaves out what nobody asks for', () => {
    for (const { movement } of cases)
      for (const part of unkeepMovement(keepMovement(movement), new Set(['card'])).parts)
        if (part.status === 'read')
          expect(part.findings.every(({ pattern }) => pattern === 'card')).toBe(true);
  });
});
