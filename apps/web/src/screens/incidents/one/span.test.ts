import { spanAround, SPANS, zoomed } from './span';

const at = '2026-11-30T12:00:00.000Z';
const length = ({ from, to }: { from: string; to: string }) => Date.parse(to) - Date.parse(from);

describe('spanAround', () => {
  it.each(Object.keys(SPANS) as (keyof typeof SPANS)[])('is as long as it says: %s', (name) => {
    for (const now of [Date.parse(at), Date.parse(at) + 1e12, 0]) {
      const span = spanAround(at, name, now);
      expect(length(span)).toBe(SPANS[name].ms);
      expect(span.from < at && at <= span.to).toBe(true);
    }
  });
  it('lies evenly around what is long past, and before now around what just was', () => {
    expect(spanAround(at, 'day', Date.parse(at) + 1e12).from).toBe('2026-11-30T00:00:00.000Z');
    expect(spanAround(at, 'day', Date.parse(at)).to).toBe('2026-11-30T12:01:00.000Z');
  });
});

describe('zoomed', () => {
  const span = { from: '2026-11-30T00:00:00.000Z', to: '2026-11-30T10:00:00.000Z' };
  it('takes a part of it, a minute at least', () => {
    expect(zoomed(span, 10, 50)).toEqual({
      from: '2026-11-30T01:00:00.000Z',
      to: '2026-11-30T05:00:00.000Z',
    });
    expect(length(zoomed(span, 50, 50))).toBe(60_000);
    expect(zoomed(span, 0, 100)).toEqual(span);
  });
});
