import { readHandedEvents } from './handed-events.js';

const body = (given: unknown): Uint8Array => Buffer.from(JSON.stringify(given));
const EVENT = {
  specversion: '1.0',
  id: '7',
  source: '/freight',
  type: 'uncut-lantern.use.asked',
  data: { application: 'Freight', person: 'a@b.example', use: { deed: 'export', by: 'screen' } },
};
const read = (given: unknown, mode: 'one' | 'several' | 'in-headers' = 'one', attributes = {}) =>
  readHandedEvents(body(given), 3, mode, attributes);
const firstOf = (reading: ReturnType<typeof read>) => {
  if (reading.status !== 'read') throw new Error(reading.why);
  return reading.events[0];
};

describe('readHandedEvents', () => {
  it('makes the same movement of an event in any envelope (CloudEvents 1.0.2, HTTP binding 3.1 to 3.3)', () => {
    const { data, ...attributes } = EVENT;
    const one = firstOf(read(EVENT));
    expect(firstOf(read([EVENT], 'several'))).toEqual(one);
    expect(firstOf(read(data, 'in-headers', attributes))).toEqual(one);
    expect(one).toMatchObject({
      status: 'read',
      happened: false,
      movement: {
        given: {
          channel: 'business',
          activity: 'export',
          at: null,
          takenFrom: [{ kind: 'application', name: 'Freight' }],
        },
      },
    });
  });

  it('names events by source and id together', () => {
    const keyOf = (over: object) => {
      const event = firstOf(read({ ...EVENT, ...over }));
      return event?.status === 'read' ? (event.movement.given as { key: string }).key : '';
    };
    expect(keyOf({})).toBe(keyOf({ time: '2026-01-01T00:00:00Z' }));
    expect(keyOf({})).not.toBe(keyOf({ id: '8' }));
    expect(keyOf({ source: '/a', id: 'b' })).not.toBe(keyOf({ source: '/a\nb', id: '' }));
    expect(keyOf({}).length).toBeLessThanOrEqual(100);
  });

  it.each([
    [{ ...EVENT, data: null }, 'no data'],
    [{ ...EVENT, data: 'text' }, 'no data'],
    [{ ...EVENT, data: { person: 'a@b.example' } }, 'application'],
    [{ ...EVENT, specversion: '2.0' }, 'specversion 1.0'],
    [{ ...EVENT, type: 'other' }, 'type must be one of'],
    [{ ...EVENT, id: 7 }, 'no id'],
    ['text', 'no specversion'],
    [null, 'no specversion'],
  ])('says what is wrong with %j', (given, words) => {
    const event = firstOf(read(given));
    expect(event).toMatchObject({ status: 'refused', message: expect.stringContaining(words) });
  });

  it('refuses what is no JSON, nothing, and more than a request holds', () => {
    expect(readHandedEvents(Buffer.from('{'), 3, 'one', {})).toEqual({ status: 'refused', why: 'no-json' });
    expect(read([], 'several')).toEqual({ status: 'refused', why: 'no-movements' });
    expect(read({}, 'several')).toEqual({ status: 'refused', why: 'no-movements' });
    expect(read([EVENT, EVENT, EVENT, EVENT], 'several')).toEqual({ status: 'refused', why: 'too-many' });
  });

  it('cuts names of strangers before they are said again', () => {
    const event = firstOf(read({ ...EVENT, source: 'x'.repeat(5_000), type: 'other' }));
    expect(event?.source.length).toBe(200);
  });
});
