import type { Excerpt } from '@lantern/core/detection';
import { toEvidenceParts, toPieces } from './evidence.js';

const excerpt: Excerpt = {
  line: 3,
  text: 'Slackwater card 4539148803436467 end',
  marks: [
    {
      start: 0,
      end: 10,
      pattern: 'own',
      certainty: 95,
      evidence: [{ code: 'listed-word', weight: 3, detail: 'Slackwater' }],
    },
    { start: 16, end: 32, pattern: 'payment-card', certainty: 97, evidence: [] },
  ],
};

describe('toPieces', () => {
  it('masks every value and the word that names it, and leaves the context', () => {
    const text = JSON.stringify(toPieces(excerpt, false));
    expect(text).not.toMatch(/Slackwater|453914880343/);
    expect(text).toContain(' card ');
    expect(
      toPieces(excerpt, false)
        .map((piece) => piece.text)
        .join(''),
    ).toHaveLength(excerpt.text.length);
  });

  it('shows the text as it was when asked to', () => {
    expect(
      toPieces(excerpt, true)
        .map((piece) => piece.text)
        .join(''),
    ).toBe(excerpt.text);
  });

  it('repeats nothing and loses nothing where findings share characters', () => {
    const shared: Excerpt = {
      line: 1,
      text: '0123456789',
      marks: [
        { start: 2, end: 8, pattern: 'a', certainty: 90, evidence: [] },
        { start: 4, end: 6, pattern: 'b', certainty: 90, evidence: [] },
        { start: 7, end: 9, pattern: 'c', certainty: 90, evidence: [] },
      ],
    };
    expect(toPieces(shared, true).map((piece) => piece.text)).toEqual(['01', '234567', '8', '9']);
    expect(
      toPieces(shared, false)
        .map((piece) => piece.text)
        .join(''),
    ).not.toMatch(/[2-6]/);
  });
});

describe('toEvidenceParts', () => {
  it('keeps what could not be read and leaves out what holds nothing', () => {
    const stored = {
      parts: [
        { role: 'body' as const, path: ['body'], unreadable: null, findings: 0, excerpts: [], notShown: 0 },
        {
          role: 'attachment' as const,
          path: ['a.zip'],
          unreadable: 'encrypted' as const,
          findings: 0,
          excerpts: [],
          notShown: 0,
        },
      ],
    };
    expect(toEvidenceParts(stored, false).map((part) => part.path)).toEqual([['a.zip']]);
  });
});
