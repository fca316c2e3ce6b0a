import { chance } from '@lantern/testkit';
import { toSearchText } from '../../text/search-text.js';
import { partsOf, RecordIndexBuilder } from './index-of-records.js';
import { type RecordShape } from '../model/record-shape.js';
import { KeyedHash } from './keyed-hash.js';
import { RecordMatcher } from './matcher.js';
import { normalForm } from './normal-form.js';

const KEY = Uint8Array.from({ length: 16 }, (_unused, index) => index);
const hex = (hash: KeyedHash): string =>
  hash.high.toString(16).padStart(8, '0') + hash.low.toString(16).padStart(8, '0');

describe('KeyedHash', () => {
  it('gives the value of the worked example (Aumasson, Bernstein, SipHash, 2012, appendix A; from memory)', () => {
    const hash = new KeyedHash(KEY);
    hash.bytes(Uint8Array.from({ length: 15 }, (_unused, index) => index));
    expect(hex(hash)).toBe('a129ca6149be45e5');
  });

  it('differs by key and by every bit of the value', () => {
    const random = chance(3);
    const seen = new Set<string>();
    for (const key of [KEY, KEY.map((byte) => byte + 1)]) {
      const hash = new KeyedHash(key);
      for (let round = 0; round < 2_000; round += 1) {
        hash.text(String(round) + random.pick(['a', 'b']));
        seen.add(hex(hash));
      }
    }
    expect(seen.size).toBe(4_000);
  });
});

describe('normalForm', () => {
  it.each([
    ['number', 'MS-104 233', 'MS104233'],
    ['number', 'ｍｓ１０４２３３', 'MS104233'],
    ['number', '12', ''],
    ['number', 'booking', ''],
    ['mail', ' Ada@Example.ORG ', 'ada@example.org'],
    ['mail', 'not a mail', ''],
    ['phone', '+49 (0)451 221-4477', '512214477'],
    ['phone', '0451 2214477', '512214477'],
    ['name', 'Brandt, Ada', 'ada brandt'],
    ['name', 'ADA  BRANDT', 'ada brandt'],
    ['name', 'José É', 'jose'],
    ['date', '2026-05-12', '2026-05-12'],
    ['date', '12.05.2026', '2026-05-12'],
    ['date', '5/13/2026', '2026-05-13'],
    ['date', '31.31.2026', ''],
    ['free', 'North Quay, 7', 'north quay 7'],
  ] as const)('%s %s', (kind, value, form) => {
    expect(normalForm(kind, value)).toBe(form);
  });
});

const SHAPE: RecordShape = {
  key: { name: 'Booking', kind: 'number' },
  others: [
    { name: 'Name', kind: 'name' },
    { name: 'Mail', kind: 'mail' },
    { name: 'Born', kind: 'date' },
  ],
  needed: 1,
  window: 120,
};

function built(rows: readonly (readonly string[])[], shape: RecordShape = SHAPE) {
  const builder = new RecordIndexBuilder(shape, KEY);
  for (const [key = '', ...others] of rows) builder.add(key, others);
  return builder.finish((bytes) => new ArrayBuffer(bytes));
}

const ROWS = [
  ['MS104233', 'Ada Brandt', 'ada@example.org', '1980-05-12'],
  ['MS104234', 'Bea Crane', 'bea@example.org', '1975-01-31'],
  ['MS104234', 'Cyd Crane', 'cyd@example.org', '2011-07-02'],
];
const find = (text: string, rows = ROWS, shape: RecordShape = SHAPE) => {
  const search = toSearchText(text);
  return new RecordMatcher(built(rows, shape).index, KEY)
    .find(search)
    .map(
      ({ start, end, columns }) =>
        `${search.text.slice(start, end)}: ${columns.map((column) => shape.others[column]?.name).join(', ')}`,
    );
};

describe('RecordMatcher', () => {
  it.each([
    ['the key with a name', 'Your booking MS104233, Ms Ada Brandt', ['MS104233: Name']],
    ['other ways of writing', 'BRANDT, ADA (born 12/05/1980): ms-104 233', ['ms-104 233: Name, Born']],
    [
      'two people with one key, each by their own',
      'MS104234 Bea Crane. '.padEnd(200) + 'MS104234 cyd@example.org',
      ['MS104234: Name', 'MS104234: Mail'],
    ],
    ['nothing where the key stands alone', 'Your booking MS104233 is open', []],
    ['nothing where the rest belongs to another record', 'MS104233 Bea Crane', []],
    ['nothing where the rest is too far away', `MS104233 ${'x '.repeat(80)}Ada Brandt`, []],
    ['nothing without the key', 'Ada Brandt, ada@example.org, 1980-05-12', []],
    ['nothing in a longer number', 'MS1042330 Ada Brandt', []],
  ])('finds %s', (_name, text, expected) => {
    expect(find(text)).toEqual(expected);
  });

  it('needs as many columns as asked for', () => {
    const shape = { ...SHAPE, needed: 2 };
    expect(find('MS104233 Ada Brandt', ROWS, shape)).toEqual([]);
    expect(find('MS104233 Ada Brandt ada@example.org', ROWS, shape)).toEqual(['MS104233: Name, Mail']);
  });

  it('finds keys that are mail addresses and telephone numbers', () => {
    const byMail: RecordShape = {
      ...SHAPE,
      key: { name: 'Mail', kind: 'mail' },
      others: [{ name: 'Phone', kind: 'phone' }],
    };
    const rows = [['ada@example.org', '+49 451 2214477']];
    expect(find('To: <Ada@example.org>, tel. 0451/221 44 77', rows, byMail)).toEqual([
      'Ada@example.org: Phone',
    ]);
    expect(find('x.ada@example.org 0451 2214477', rows, byMail)).toEqual([]);
  });

  it('finds nothing with another key, since only hashes are kept', () => {
    const other = new RecordMatcher(
      built(ROWS).index,
      KEY.map((byte) => byte ^ 1),
    );
    expect(other.find(toSearchText('MS104233 Ada Brandt'))).toEqual([]);
  });
});

describe('RecordIndexBuilder', () => {
  it('says what became of the rows, and which columns are too common', () => {
    const rows = Array.from({ length: 400 }, (_unused, index) => [
      `MS${100_000 + index}`,
      index % 4 === 0 ? `Person ${index} Unique${index}` : 'Maria',
      `p${index}@example.org`,
      '',
    ]);
    const { report } = built([...rows, rows[0]!, ['', 'nobody'], ['12', 'short']]);
    expect(report).toMatchObject({ rows: 403, records: 400, withoutKey: 2, repeated: 1, keyTooCommon: 0 });
    expect(report.columns).toEqual([
      { name: 'Name', usable: expect.closeTo(0.25, 1), tooCommon: true },
      { name: 'Mail', usable: 1, tooCommon: false },
      { name: 'Born', usable: 0, tooCommon: false },
    ]);
    // The common name never counts; the rare one does.
    expect(find('MS100001 Maria', rows)).toEqual([]);
    expect(find('MS100004 Person 4 Unique4', rows)).toEqual(['MS100004: Name']);
  });

  it('leaves out rows whose key too many share', () => {
    const rows = Array.from({ length: 40 }, (_unused, index) => ['SAME1', `Name${index} Other${index}`]);
    expect(built(rows).report).toMatchObject({ records: 16, keyTooCommon: 24 });
  });

  it('takes less than 64 bytes a record with all columns that are allowed', () => {
    const others = Array.from({ length: 8 }, (_unused, index) => ({
      name: `c${index}`,
      kind: 'free' as const,
    }));
    const shape = { ...SHAPE, others };
    const bytesFor = (records: number): number => {
      const slots = 2 ** Math.ceil(Math.log2(records * 1.6));
      return slots * 8 + records * 4 + records * others.length * 4;
    };
    expect(bytesFor(1_000_000)).toBeLessThan(64_000_000);
    const rows = Array.from({ length: 1_000 }, (_unused, index) => [`K${10_000 + index}`]);
    const { index } = built(rows, shape);
    expect(index.buffer.byteLength).toBe(bytesFor(1_000));
    expect(partsOf(index).others).toHaveLength(8_000);
  });

  it('holds no value in its buffer', () => {
    const { index } = built(ROWS);
    const bytes = Buffer.from(index.buffer as ArrayBuffer);
    for (const text of ['Ada', 'ada', 'MS104233', 'brandt'])
      for (const encoding of ['utf8', 'utf16le'] as const)
        expect(bytes.includes(Buffer.from(text, encoding))).toBe(false);
  });
});
