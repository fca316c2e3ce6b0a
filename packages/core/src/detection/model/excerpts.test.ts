import { READY_PATTERNS } from '../library/index.js';
import { compileScanner } from '../scan/scanner.js';
import { excerptsOf } from './excerpts.js';

const scanner = compileScanner(READY_PATTERNS);
const cut = (text: string) => excerptsOf(text, scanner.scan(text).findings);

describe('excerptsOf', () => {
  it('keeps the words around a finding, with its line and its place', () => {
    const { excerpts } = cut(`${'x\n'.repeat(200)}card 4539 1488 0343 6467 please\n${'y\n'.repeat(300)}`);
    expect(excerpts).toHaveLength(1);
    const [excerpt] = excerpts;
    const mark = excerpt?.marks[0];
    expect(excerpt?.text.slice(mark?.start, mark?.end)).toBe('4539 1488 0343 6467');
    expect(excerpt?.text.length).toBeLessThan(300);
    expect(excerpt?.line).toBe(143);
  });

  it('joins findings that stand together and parts those that do not', () => {
    const card = 'card 4539 1488 0343 6467';
    expect(
      cut(`${card}\n${card}\n${'z '.repeat(400)}${card}`).excerpts.map((excerpt) => excerpt.marks.length),
    ).toEqual([2, 1]);
  });

  it('keeps a bounded number of findings and counts the others', () => {
    const many = Array.from({ length: 500 }, () => 'card 4539 1488 0343 6467').join('\n');
    const { excerpts, notShown } = cut(many);
    const kept = excerpts.reduce((sum, excerpt) => sum + excerpt.marks.length, 0);
    expect(kept + notShown).toBe(500);
    expect(kept).toBeLessThan(100);
    for (const excerpt of excerpts)
      for (const mark of excerpt.marks)
        expect(excerpt.text.slice(mark.start, mark.end)).toBe('4539 1488 0343 6467');
  });

  it('has nothing to keep of a text without findings', () =>
    expect(cut('plain')).toEqual({ excerpts: [], notShown: 0 }));
});
