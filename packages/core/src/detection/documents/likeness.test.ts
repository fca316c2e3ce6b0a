import { chance } from '@lantern/testkit';
import { toSearchText } from '../../text/search-text.js';
import type { PatternId } from '../../shared/brand.js';
import type { DocumentsPattern } from '../model/pattern.js';
import { compileScanner } from '../scan/scanner.js';
import { fingerprintsOf, GRAM, winnow, WINDOW } from './fingerprints.js';
import { indexLikeness, LikenessMatcher, type Reappearance } from './likeness.js';

describe('winnow', () => {
  it('keeps what the worked example keeps (Schleimer, Wilkerson, Aiken, 2003, figure 2)', () => {
    const hashes = [77, 74, 42, 17, 98, 50, 17, 98, 8, 88, 67, 39, 77, 74, 42, 17, 98];
    expect(winnow(hashes, 4).map((place) => [hashes[place], place])).toEqual([
      [17, 3],
      [17, 6],
      [8, 8],
      [39, 11],
      [17, 15],
    ]);
  });

  it('keeps the same as looking at every window (the paper, definition 1), whatever the hashes', () => {
    const random = chance(11);
    for (let round = 0; round < 300; round += 1) {
      const hashes = Array.from({ length: random.whole(1, 60) }, () => random.whole(0, 6));
      const window = random.whole(1, 9);
      const kept = new Set<number>();
      for (let from = 0; from + window <= hashes.length; from += 1) {
        const part = hashes.slice(from, from + window);
        kept.add(from + part.lastIndexOf(Math.min(...part)));
      }
      expect(winnow(hashes, window)).toEqual([...kept]);
    }
  });
});

/** Sentences of invented words: nothing of one stands in another. */
function prose(seed: number, sentences: number): string {
  const random = chance(seed);
  const word = () =>
    Array.from({ length: random.whole(2, 9) }, () => random.pick([...'abcdefghijklmnopqrstuvwxyz'])).join('');
  return Array.from(
    { length: sentences },
    () => `${Array.from({ length: random.whole(6, 14) }, word).join(' ')}.`,
  ).join(' ');
}

const find = (samples: string[], text: string, least: number, unlike: string[] = []): Reappearance[] => {
  const index = indexLikeness(
    samples.map((sample, at) => ({ id: `s${at}`, name: `Sample ${at}`, text: sample })),
    unlike,
  );
  return new LikenessMatcher(index).find(toSearchText(text), least);
};

describe('fingerprintsOf', () => {
  it('notices whatever two texts share over the guaranteed length, wherever it stands (the paper, section 3)', () => {
    const random = chance(5);
    for (let round = 0; round < 200; round += 1) {
      const shared = prose(round + 1_000, 3)
        .replace(/[^a-z]/g, '')
        .slice(0, GRAM + WINDOW - 1);
      const one = prose(round, 3) + shared + prose(round + 500, random.whole(1, 4));
      const other = prose(round + 2_000, random.whole(1, 4)) + shared + prose(round + 2_500, 2);
      const hashes = new Set(fingerprintsOf(toSearchText(one).units).hashes);
      expect(fingerprintsOf(toSearchText(other).units).hashes.some((hash) => hashes.has(hash))).toBe(true);
    }
  });

  it('is the same for the same letters in other cases, accents, widths, spaces and marks', () => {
    const hashesOf = (text: string) => [...fingerprintsOf(toSearchText(text).units).hashes];
    const text = 'The charter party of the second vessel shall be held in strict confidence by both sides.';
    expect(hashesOf(`${text.toUpperCase().replaceAll(' ', ' \n  — ')}`)).toEqual(hashesOf(text));
    expect(hashesOf(text.replaceAll('e', 'é').replaceAll('a', 'ａ'))).toEqual(hashesOf(text));
  });

  it('holds nothing for a text that is too short', () => {
    expect(fingerprintsOf(toSearchText('Yours sincerely').units).hashes).toHaveLength(0);
  });
});

const FORM = [
  'MEDICAL CERTIFICATE OF A SEAFARER, issued under the rules of the flag state',
  'Family name of the seafarer: ______ Given names of the seafarer: ______',
  'Date of birth (day, month, year): ______ Position on board the vessel: ______',
  'Is hearing without aids found to be sufficient for the duties on board? ______',
  'Is colour vision tested and found to be sufficient for the duties of a lookout? ______',
  'Is the seafarer free from any condition likely to be made worse by service at sea? ______',
  'Restrictions that were found to be necessary by the medical practitioner: ______',
  'Name and address of the recognised medical practitioner: ______ Signature and stamp: ______',
].join('\n');

describe('LikenessMatcher', () => {
  it('recognises a blank form when it is filled in', () => {
    const random = chance(8);
    const filled = FORM.replaceAll('______', () =>
      prose(random.whole(1, 1e6), 1).slice(0, random.whole(4, 60)),
    );
    const [found] = find([FORM, prose(3, 40)], `Please find it below.\n${filled}\nRegards`, 0.5);
    expect(found?.sample.id).toBe('s0');
    expect(found?.share).toBeGreaterThan(0.55);
    expect(found?.stretches).toHaveLength(1);
  });

  it('recognises half of a contract in a mail by its share, and says where it stands', () => {
    const contract = prose(1, 80);
    const half = contract.slice(0, contract.length / 2);
    const before = `${prose(2, 6)}\n\n`;
    const [found] = find([contract], `${before}${half}\n\n${prose(4, 6)}`, 0.3);
    expect(found?.share).toBeGreaterThan(0.45);
    expect(found?.share).toBeLessThan(0.53);
    const [stretch] = found?.stretches ?? [];
    expect(Math.abs((stretch?.start ?? 0) - before.length)).toBeLessThan(80);
    expect(Math.abs((stretch?.end ?? 0) - before.length - half.length)).toBeLessThan(80);
  });

  it('finds nothing in other texts, and nothing below the share asked for', () => {
    const contract = prose(1, 80);
    expect(find([contract], prose(9, 200), 0.02)).toEqual([]);
    expect(find([contract], contract.slice(0, contract.length / 5), 0.3)).toEqual([]);
  });

  it('does not count what stands in texts that are not meant, too', () => {
    const letterhead = prose(20, 12);
    const secret = prose(21, 12);
    expect(find([letterhead + secret], letterhead, 0.3)).toHaveLength(1);
    expect(find([letterhead + secret], letterhead, 0.3, [letterhead])).toEqual([]);
    expect(find([letterhead + secret], secret, 0.8, [letterhead])[0]?.share).toBeGreaterThan(0.9);
  });

  it('keeps a sample without enough text apart: it counts nothing and is never found', () => {
    const index = indexLikeness([{ id: 'a', name: 'A', text: 'Too short to be told from others.' }], []);
    expect(index.samples[0]?.fingerprints).toBe(0);
    expect(new LikenessMatcher(index).find(toSearchText('Too short to be told from others.'), 0.1)).toEqual(
      [],
    );
  });
});

describe('a pattern of likeness', () => {
  const id = 'contracts' as PatternId;
  const contract = prose(1, 60);
  const pattern: DocumentsPattern = {
    origin: 'documents',
    id,
    name: 'Contracts',
    kind: 'own-documents',
    about: '',
    learns: 'likeness',
    leastShare: 0.3,
  };
  const index = indexLikeness([{ id: 's0', name: 'Charter.docx', text: contract }], []);
  const scanner = compileScanner([pattern], new Map(), new Map([[id, { learns: 'likeness', index }]]));

  it('is certain to 80 at the share asked for and nearly certain of the whole, and names sample and share', () => {
    const [whole] = scanner.scan(contract).findings;
    expect(whole).toMatchObject({ pattern: id, certainty: 100, canonical: 's0' });
    expect(whole?.evidence[0]).toMatchObject({ code: 'reappears', detail: '100 % of Charter.docx' });
    const third = scanner.scan(contract.slice(0, contract.length * 0.33)).findings[0];
    expect(third?.certainty).toBeGreaterThanOrEqual(80);
    expect(third?.certainty).toBeLessThan(88);
  });

  it('points into the text as read', () => {
    const { findings } = scanner.scan(`&amp; &eacute; ${prose(7, 3)}\n${contract}`);
    const at = `&amp; &eacute; ${prose(7, 3)}\n`.length;
    expect(Math.abs((findings[0]?.start ?? 0) - at)).toBeLessThan(80);
  });

  it('finds nothing where its samples are not at hand', () => {
    expect(compileScanner([pattern]).scan(contract).findings).toEqual([]);
  });
});
