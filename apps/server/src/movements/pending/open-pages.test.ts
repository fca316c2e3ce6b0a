import { CLOSING_PAGE_MS, OPEN_PAGE_MS, openUntil } from './open-pages.js';

describe('how long a page counts as open', () => {
  const now = new Date('2026-11-26T10:00:00Z');

  it('is a slow minute after it said so, and a moment after it said that it closes', () => {
    expect(openUntil(true, now).toISOString()).toBe('2026-11-26T10:01:30.000Z');
    expect(openUntil(false, now).toISOString()).toBe('2026-11-26T10:00:20.000Z');
  });

  it('outlasts a page in the background, which speaks once a minute, and one that is loaded anew', () => {
    expect(OPEN_PAGE_MS).toBeGreaterThan(60_000);
    expect(CLOSING_PAGE_MS).toBeGreaterThan(10_000);
    expect(CLOSING_PAGE_MS).toBeLessThan(OPEN_PAGE_MS);
  });
});
