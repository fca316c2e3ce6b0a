import type { PatternId } from '@lantern/core/shared';
import { FindingQuota } from './finding-quota.js';

describe('FindingQuota', () => {
  it('keeps what still changes a count: the first ones, and values not seen before', () => {
    const quota = new FindingQuota(3);
    const kept = ['a', 'a', 'a', 'a', 'b', 'b', 'c', 'd', 'd'].filter((canonical) =>
      quota.keeps({ pattern: 'p' as PatternId, canonical }),
    );
    expect(kept).toEqual(['a', 'a', 'a', 'b', 'c']);
    expect(quota.keeps({ pattern: 'q' as PatternId, canonical: 'a' })).toBe(true);
  });
});
