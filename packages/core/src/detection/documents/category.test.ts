import { chance, corpusMails } from '@lantern/testkit';
import type { PatternId } from '../../shared/brand.js';
import type { DocumentsPattern } from '../model/pattern.js';
import { compileScanner } from '../scan/scanner.js';
import { Category, wordCounts } from './category.js';
import { learnCategory, scaleOf } from './held-out.js';
import { wilson } from '../../shared/interval.js';

describe('wilson', () => {
  // Newcombe, Statistics in Medicine 17 (1998), table I, method 3; from memory.
  it.each([
    [81, 263, 0.2553, 0.3662],
    [15, 148, 0.0624, 0.1605],
    [0, 20, 0, 0.1611],
    [1, 29, 0.0061, 0.1718],
  ])('gives the published interval for %d of %d', (hits, of, least, most) => {
    const interval = wilson(hits, of);
    expect(interval.least).toBeCloseTo(least, 4);
    expect(interval.most).toBeCloseTo(most, 4);
  });

  it('says nothing where nothing was counted', () => {
    expect(wilson(0, 0)).toEqual({ of: 0, share: 0, least: 0, most: 1 });
  });
});

/** Bodies of mails of an open corpus: unsolicited ones and others. */
const mails = corpusMails(6).map(({ name, text }) => ({
  spam: name.startsWith('spam'),
  text: text.slice(text.indexOf('\n\n') + 2).replace(/<[^>]*>/g, ' '),
}));
const usable = mails.filter(({ text }) => text.length > 200);
const half = (part: number) => usable.filter((_mail, index) => index % 2 === part);

describe('a category learnt from an open corpus (SpamAssassin)', () => {
  const training = [
    ...half(0)
      .filter(({ spam }) => spam)
      .slice(0, 80),
    ...half(0)
      .filter(({ spam }) => !spam)
      .slice(0, 80),
  ];
  const rounds: number[] = [];
  const { model, report } = learnCategory(
    training.map(({ text }) => wordCounts(text)),
    training.map(({ spam }) => spam),
    (round) => rounds.push(round),
  );
  const category = new Category(model);
  const certainty = (text: string) => 100 / (1 + Math.exp(-category.sum(wordCounts(text))));

  it('tells texts apart that it has never seen', () => {
    const unseen = half(1);
    const spam = unseen.filter((mail) => mail.spam);
    const others = unseen.filter((mail) => !mail.spam);
    expect(spam.filter(({ text }) => certainty(text) >= 50).length / spam.length).toBeGreaterThan(0.85);
    expect(others.filter(({ text }) => certainty(text) >= 50).length / others.length).toBeLessThan(0.1);
  });

  it('foretells by held-out samples how it does on others', () => {
    const spam = half(1).filter((mail) => mail.spam);
    const recall = spam.filter(({ text }) => certainty(text) >= 50).length / spam.length;
    const foretold = report.heldOut[0]?.recall;
    expect(recall).toBeGreaterThan((foretold?.least ?? 1) - 0.05);
    expect(recall).toBeLessThan((foretold?.most ?? 0) + 0.05);
  });

  it('gives certainties that hold: of texts at 80 to 95 about that many are meant', () => {
    const told = half(1).map(({ spam, text }) => ({ spam, certainty: certainty(text) }));
    // The corpus has more of one side: both count the same here, as they did when it was learnt.
    const like = told.filter(({ spam }) => spam).length;
    const weight = ({ spam }: { spam: boolean }) => 1 / (spam ? like : told.length - like);
    const inside = told.filter((each) => each.certainty >= 75 && each.certainty < 97);
    const share =
      inside.filter(({ spam }) => spam).reduce((sum, each) => sum + weight(each), 0) /
      inside.reduce((sum, each) => sum + weight(each), 0);
    expect(share).toBeGreaterThan(0.75);
  });

  it('tells of each round', () => {
    expect(rounds).toEqual([1, 2, 3, 4, 5, 6]);
  });
});

const WORDS_FOR = ['hull', 'drydock', 'purchase', 'broker', 'surveyor', 'tonnage', 'confidential'];
const WORDS_AGAINST = ['lunch', 'canteen', 'menu', 'soup', 'holiday', 'parking', 'birthday'];
const FILLERS = ['the', 'of', 'on', 'and', 'for', 'we', 'is', 'at', 'this', 'please', 'monday', 'office'];

function invented(seed: number, words: readonly string[]): string {
  const random = chance(seed);
  return Array.from({ length: 60 }, () => random.pick([...(random.happens(0.2) ? words : FILLERS)])).join(
    ' ',
  );
}

const learnInvented = (count: number) => {
  const texts = Array.from({ length: count * 2 }, (_unused, index) =>
    invented(index, index < count ? WORDS_FOR : WORDS_AGAINST),
  );
  return learnCategory(
    texts.map(wordCounts),
    texts.map((_text, index) => index < count),
  );
};

describe('learnCategory', () => {
  it('names the words that drive a decision', () => {
    const { wordsFor, wordsAgainst } = learnInvented(30).report;
    expect(new Set(wordsFor.slice(0, 7).map(({ word }) => word))).toEqual(new Set(WORDS_FOR));
    expect(new Set(wordsAgainst.slice(0, 7).map(({ word }) => word))).toEqual(new Set(WORDS_AGAINST));
  });

  it('says that there are too few samples, and is less certain with few than with many', () => {
    const few = learnInvented(6);
    const many = learnInvented(60);
    expect([few.report.tooFew, many.report.tooFew]).toEqual([true, false]);
    const unseen = wordCounts(invented(999, WORDS_FOR));
    expect(new Category(few.model).sum(unseen)).toBeLessThan(new Category(many.model).sum(unseen));
    const [fewAt50, manyAt50] = [few.report.heldOut[0], many.report.heldOut[0]];
    expect(fewAt50 && fewAt50.recall.most - fewAt50.recall.least).toBeGreaterThan(
      manyAt50 ? manyAt50.recall.most - manyAt50.recall.least : 1,
    );
  });

  it('learns nothing where both sides are the same texts', () => {
    const texts = Array.from({ length: 40 }, (_unused, index) => wordCounts(invented(index % 20, WORDS_FOR)));
    const { model } = learnCategory(
      texts,
      texts.map((_text, index) => index < 20),
    );
    expect(Math.abs(new Category(model).sum(wordCounts(invented(777, WORDS_FOR))))).toBeLessThan(0.7);
  });

  it('never leaves the numbers, whatever the scores', () => {
    for (const scores of [
      [0, 0, 0, 0],
      [1e6, 1e6, -1e6, -1e6],
      [-1, -1, 1, 1],
    ]) {
      const { slope, offset } = scaleOf(scores, [true, true, false, false]);
      expect(Number.isFinite(slope) && Number.isFinite(offset) && slope >= 0).toBe(true);
    }
  });
});

describe('a pattern of a category', () => {
  const id = 'ships' as PatternId;
  const pattern: DocumentsPattern = {
    origin: 'documents',
    id,
    name: 'Purchase of a ship',
    kind: 'own-documents',
    about: '',
    learns: 'category',
    leastShare: 0,
  };
  const { model } = learnInvented(40);
  const scanner = compileScanner([pattern], new Map(), new Map([[id, { learns: 'category', model }]]));

  it('finds a text of its kind, with a sum of words that comes to its certainty', () => {
    const [finding] = scanner.scan(invented(500, WORDS_FOR)).findings;
    expect(finding?.certainty).toBeGreaterThan(80);
    const sum = finding?.evidence.reduce((total, { weight }) => total + weight, 0) ?? 0;
    expect(finding?.certainty).toBe(Math.round(100 / (1 + Math.exp(-sum))));
    expect(finding?.evidence.map(({ code }) => code)).toEqual(
      expect.arrayContaining(['category', 'category-word', 'category-others']),
    );
  });

  it('marks the stretch that speaks most for it', () => {
    const before = `${Array.from({ length: 8 }, (_unused, index) => invented(index + 50, FILLERS)).join(' ')} `;
    const text = `${before}${WORDS_FOR.join(' ')} ${WORDS_FOR.join(' ')}`;
    const [finding] = scanner.scan(`${text} ${invented(90, FILLERS)}`).findings;
    expect(finding?.start).toBeGreaterThan(before.length - 450);
  });

  it.each([
    ['another kind of text', invented(501, WORDS_AGAINST)],
    ['a text of a few words', 'hull drydock purchase'],
    ['a text without words', '1234 5678 ...'],
    ['nothing', ''],
  ])('finds nothing in %s', (_name, text) => {
    expect(scanner.scan(text).findings).toEqual([]);
  });
});
