import { isTooDeep, MAX_DEPTH } from './json-shape.js';

const nested = (depth: number): Buffer => Buffer.from('['.repeat(depth) + ']'.repeat(depth));

describe('isTooDeep', () => {
  it('lets the deepest pass and no deeper', () => {
    expect(isTooDeep(nested(MAX_DEPTH))).toBe(false);
    expect(isTooDeep(nested(MAX_DEPTH + 1))).toBe(true);
    expect(isTooDeep(Buffer.from('{"a":'.repeat(MAX_DEPTH + 1)))).toBe(true);
  });

  it.each([
    ['brackets in a text', JSON.stringify({ text: '['.repeat(500) })],
    ['quotes in a text', JSON.stringify({ text: '\\"[[['.repeat(500) })],
    ['many, side by side', JSON.stringify(Array.from({ length: 1_000 }, () => [[]]))],
  ])('does not count %s', (_name, json) => expect(isTooDeep(Buffer.from(json))).toBe(false));

  it('refuses more values than anybody sends', () =>
    expect(isTooDeep(Buffer.from(`[${'1,'.repeat(1_000_001)}1]`))).toBe(true));
});
