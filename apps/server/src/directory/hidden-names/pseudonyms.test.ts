import { Pseudonyms } from './pseudonyms.js';

const PEOPLE = [
  { address: 'orla.fenwick@a.example', name: 'Orla Fenwick' },
  { address: 'jo@a.example', name: 'Jo María de la Cruz' },
  { address: 'left@other.example', name: 'Ada Left' },
  { address: 'cher@a.example', name: 'Cher' },
];
const remembered = new Map<string, string>();
const made = (key = 1) =>
  new Pseudonyms(Buffer.alloc(32, key), PEOPLE, {
    isInside: (address) => address.endsWith('@a.example'),
    colleagues: new Set(['ines marlow', 'ines@a.example']),
    remembered,
  });
const CODE = /Person [A-Z2-9]{4}-[A-Z2-9]{4}/u;
const hidden = made();
const orla = hidden.hide('orla.fenwick@a.example');

describe('names under codes', () => {
  it('stand for one person everywhere, and for another under another key', () => {
    expect(orla).toMatch(/^[a-z2-9]{4}-[a-z2-9]{4}@hidden\.invalid$/u);
    expect(hidden.hide('ORLA.FENWICK@a.example')).toBe(orla);
    expect(made(2).hide('orla.fenwick@a.example')).not.toBe(orla);
    const name = `Person ${orla.split('@')[0]?.toUpperCase() ?? ''}`;
    expect(hidden.hide({ name: 'Orla F.', address: 'orla.fenwick@a.example', department: 'Deck' })).toEqual({
      ...{ name, address: orla, department: 'Deck' },
    });
    expect(hidden.hide('Orla  Fenwick')).toBe(name);
  });

  it('are found in texts, keys, lists, and however deep', () => {
    const at = new Date(0);
    const answer = {
      rows: [{ to: ['orla.fenwick@a.example', 'desk@out.example'], at, n: 4, none: null }],
      byPerson: { 'orla.fenwick@a.example': 3 },
      text: 'From Orla Fenwick (orla.fenwick@a.example) to Jo María de la Cruz, and to desk@out.example.',
    };
    const shown = hidden.hide(answer);
    expect(JSON.stringify(shown)).not.toMatch(/orla|fenwick|cruz/iu);
    expect(shown.rows[0]).toEqual({ to: [orla, 'desk@out.example'], at, n: 4, none: null });
    expect(Object.values(shown.byPerson)).toEqual([3]);
    expect(shown.text.match(new RegExp(CODE, 'gu'))).toHaveLength(2);
    expect(shown.text).toMatch(/ and to desk@out\.example\.$/u);
  });

  it('hide people of the organisation whom no directory knows, and people who left', () => {
    expect(hidden.hide({ name: 'New Hand', address: 'new@a.example' }).name).toMatch(CODE);
    expect(hidden.hide('left@other.example')).toMatch(/hidden/u);
    // Outsiders are not people of the organisation.
    const partner = { name: 'Bea Berg', address: 'bea@partner.example' };
    expect(hidden.hide(partner)).toEqual(partner);
  });

  it('leave those who work at the desk their names, where they are named as such', () => {
    expect(hidden.hide({ by: 'Ines Marlow', assignee: 'ines@a.example' })).toEqual({
      ...{ by: 'Ines Marlow', assignee: 'ines@a.example' },
    });
    expect(hidden.hide({ by: 'Orla Fenwick' }).by).toMatch(CODE);
    expect(hidden.hide({ person: { name: 'Ines Marlow', address: 'ines@a.example' } }).person.name).toMatch(
      CODE,
    );
  });

  it('are understood when they come back, and real ones then mean nobody', () => {
    expect(hidden.show({ filter: `person eq "${orla}" and not (person eq "x@out.example")` })).toEqual({
      filter: 'person eq "orla.fenwick@a.example" and not (person eq "x@out.example")',
    });
    expect(hidden.show('person eq "orla.fenwick@a.example"')).toBe('person eq "nobody@hidden.invalid"');
    // Whoever works at the desk is called in notes, and not found by a filter.
    expect(hidden.show({ text: '@ines@a.example', filter: 'ines@a.example' })).toEqual({
      ...{ text: '@ines@a.example', filter: 'nobody@hidden.invalid' },
    });
    // Also of somebody whom no directory knows.
    const unknown = hidden.hide('new@a.example');
    expect(hidden.show([unknown])).toEqual(['new@a.example']);
    // And after the directory was read again.
    expect(made().show(unknown)).toBe('new@a.example');
    expect(hidden.show('zzzz-zzzz@hidden.invalid')).toBe('zzzz-zzzz@hidden.invalid');
  });

  it('take time in proportion to the text, whatever stands in it', () => {
    const text = 'Orla '.repeat(200_000);
    expect(hidden.hide(text)).toBe(text);
    expect(hidden.hide('@'.repeat(200_000))).toHaveLength(200_000);
  });
});
