import { BEGINNING, ChainCheck, type ChainedEntry, entryHash, headSignature, readHeads } from './chain.js';

const KEY = Buffer.alloc(32, 7);

function trail(length: number): ChainedEntry[] {
  const entries: ChainedEntry[] = [];
  for (let number = 1; number <= length; number += 1) {
    const entry = {
      number,
      at: new Date(Date.UTC(2026, 10, 1, 8, number)),
      actor: 'ines@a.example',
      action: 'policy-saved',
      target: String(number),
      facts: { to: 'b', from: 'a' },
      previous: entries.at(-1)?.hash ?? BEGINNING,
    };
    entries.push({ ...entry, hash: entryHash(entry) });
  }
  return entries;
}

function head(entries: readonly ChainedEntry[]) {
  const { number, hash } = entries.at(-1) ?? { number: 0, hash: BEGINNING };
  return { number, hash, signature: headSignature(KEY, number, hash) };
}

function check(entries: readonly ChainedEntry[], signed = head(trail(5)), key = KEY) {
  const chain = new ChainCheck();
  for (const entry of entries) chain.add(entry);
  return chain.end(signed, key);
}

describe('the chain of the trail', () => {
  it('is whole as it was written, and when nothing was written yet', () => {
    expect(check(trail(5))).toEqual({ whole: true, entries: 5, brokenAt: null, why: null });
    expect(new ChainCheck().end(null, KEY).whole).toBe(true);
  });

  it('does not depend on the order in which facts are kept', () => {
    const [first] = trail(1);
    expect(entryHash({ ...first!, facts: { from: 'a', to: 'b' } })).toBe(first!.hash);
  });

  it.each(['actor', 'action', 'target'] as const)('shows that the %s of a row was changed', (field) => {
    const entries = trail(5);
    entries[2] = { ...entries[2]!, [field]: 'other' };
    expect(check(entries)).toMatchObject({ whole: false, brokenAt: 3, why: 'changed' });
  });

  it('shows a changed row whose hash was made anew', () => {
    const entries = trail(5);
    const changed = { ...entries[2]!, actor: 'other' };
    entries[2] = { ...changed, hash: entryHash(changed) };
    expect(check(entries)).toMatchObject({ whole: false, brokenAt: 4, why: 'changed' });
  });

  it('shows a row that was taken out', () => {
    const entries = trail(5);
    entries.splice(2, 1);
    expect(check(entries)).toMatchObject({ whole: false, brokenAt: 3, why: 'missing' });
  });

  it('shows two rows that were exchanged', () => {
    const [first, second, ...rest] = trail(5);
    const exchanged = [{ ...second!, number: 1 }, { ...first!, number: 2 }, ...rest];
    expect(check(exchanged)).toMatchObject({ whole: false, brokenAt: 1, why: 'changed' });
  });

  it('shows that its end was cut off, also where the end that is left was signed with another key', () => {
    const cut = trail(3);
    expect(check(cut)).toMatchObject({ whole: false, brokenAt: 4, why: 'cut-off' });
    const { number, hash } = cut.at(-1)!;
    const forged = { number, hash, signature: headSignature(Buffer.alloc(32, 8), number, hash) };
    expect(check(cut, forged)).toMatchObject({ whole: false, why: 'not-signed' });
  });

  it('shows a trail that was written anew from the middle on', () => {
    const entries = trail(3);
    for (const entry of trail(5).slice(3)) {
      const anew = { ...entry, actor: 'other', previous: entries.at(-1)!.hash };
      entries.push({ ...anew, hash: entryHash(anew) });
    }
    expect(check(entries)).toMatchObject({ whole: false, why: 'changed' });
  });

  describe('with heads that were written down', () => {
    const written = (entries: readonly ChainedEntry[]) => `${JSON.stringify(head(entries))}\n`;
    const past = (text: string, entries: readonly ChainedEntry[], signed = head(entries)) => {
      const chain = new ChainCheck(readHeads(text, KEY));
      for (const entry of entries) chain.add(entry);
      return chain.end(signed, KEY);
    };
    /** The same trail made anew by somebody who has the key and the database, from an entry on. */
    const madeAnew = (from: number) => {
      const entries: ChainedEntry[] = [];
      for (const entry of trail(5)) {
        const previous = entries.at(-1)?.hash ?? BEGINNING;
        const other = { ...entry, previous, actor: entry.number >= from ? 'mallory@a.example' : entry.actor };
        entries.push({ ...other, hash: entryHash(other) });
      }
      return entries;
    };

    it('is whole past all of them', () => {
      const text = [1, 3, 5].map((length) => written(trail(length))).join('');
      expect(past(text, trail(5)).whole).toBe(true);
    });

    it('shows a trail that was made anew and signed anew', () => {
      expect(past('', madeAnew(2)).whole).toBe(true);
      expect(past(written(trail(3)), madeAnew(2))).toMatchObject({
        whole: false,
        brokenAt: 3,
        why: 'changed',
      });
    });

    it('shows an end that was cut off and signed anew', () => {
      expect(past(written(trail(5)), trail(3))).toMatchObject({ whole: false, brokenAt: 4, why: 'cut-off' });
    });

    it('passes over lines that are cut off or that nobody signed', () => {
      const forged = JSON.stringify({ ...head(trail(2)), hash: '0'.repeat(64) });
      expect(past(`${forged}\n{"number":9\n\nhello\n${written(trail(4))}`, trail(5)).whole).toBe(true);
      expect(readHeads(forged, KEY)).toEqual([]);
    });
  });

  describe('whose first part was deleted by age', () => {
    const all = trail(8);
    const without = (removed: { number: number; hash: string; signature: string }, from: number) => {
      const chain = new ChainCheck([], removed);
      for (const entry of all.slice(from)) chain.add(entry);
      return chain.end(head(all), KEY);
    };

    it('is whole behind the signed end of that part', () => {
      expect(without(head(all.slice(0, 3)), 3)).toEqual({
        whole: true,
        entries: 5,
        brokenAt: null,
        why: null,
      });
      // Also where nothing is left behind it.
      expect(without(head(all), 8)).toMatchObject({ whole: true, entries: 0 });
    });

    it('shows more that was taken out than its end says, and less', () => {
      expect(without(head(all.slice(0, 3)), 4)).toMatchObject({ whole: false, brokenAt: 4, why: 'missing' });
      expect(without(head(all.slice(0, 3)), 2)).toMatchObject({ whole: false, why: 'missing' });
    });

    it('shows an end that nobody with the key signed, or that is of another trail', () => {
      const forged = { ...head(all.slice(0, 3)), signature: '0'.repeat(64) };
      expect(without(forged, 3)).toMatchObject({ whole: false, brokenAt: 3, why: 'not-signed' });
      const { number, hash } = { ...head(all.slice(0, 3)), hash: 'ab'.repeat(32) };
      const other = { number, hash, signature: headSignature(KEY, number, hash) };
      expect(without(other, 3)).toMatchObject({ whole: false, brokenAt: 4, why: 'changed' });
    });
  });
});
