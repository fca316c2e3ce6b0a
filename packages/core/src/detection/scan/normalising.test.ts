import { READY_PATTERNS } from '../library/index.js';
import { compileScanner } from './scanner.js';

const scanner = compileScanner(READY_PATTERNS);
const CARD = '4539 1488 0343 6467';

/** What is found in a text, as it stands there. */
const found = (text: string, pattern = 'payment-card'): string[] =>
  scanner
    .scan(text)
    .findings.filter((finding) => finding.pattern === pattern && finding.certainty >= 80)
    .map((finding) => text.slice(finding.start, finding.end));

const base64 = (text: string): string => Buffer.from(text).toString('base64');

describe('a number however it was written', () => {
  it.each([
    ['full-width digits', 'card ４５３９１４８８０３４３６４６７', '４５３９１４８８０３４３６４６７'],
    ['Arabic digits', 'card ٤٥٣٩١٤٨٨٠٣٤٣٦٤٦٧', '٤٥٣٩١٤٨٨٠٣٤٣٦٤٦٧'],
    [
      'zero-width characters',
      'card 4539\u200b1488\u200b0343\u200b6467',
      '4539\u200b1488\u200b0343\u200b6467',
    ],
    ['soft hyphens', 'card 4539\u00ad14880343\u00ad6467', '4539\u00ad14880343\u00ad6467'],
    [
      'thin spaces and odd dashes',
      'card 4539\u20091488\u20090343\u20096467',
      '4539\u20091488\u20090343\u20096467',
    ],
    ['character references', 'card 4&#53;39 1488&nbsp;0343 6467', '4&#53;39 1488&nbsp;0343 6467'],
    ['quoted-printable spaces', 'card 4539=201488=200343=206467 ok', '4539=201488=200343=206467'],
    ['a soft break of quoted-printable', 'card 45391488=\r\n03436467 ok', '45391488=\r\n03436467'],
    ['a line break at a space', `card ${CARD.replace(' 0343', '\n0343')} please`, '4539 1488\n0343 6467'],
    ['a line break inside a group', 'the card 45391488\n03436467 please', '45391488\n03436467'],
    ['a line break in a quoted mail', '> card 4539 1488\n> 0343 6467 please', '4539 1488\n> 0343 6467'],
    ['a line break behind a hyphen', 'card 4539-1488-\n0343-6467 please', '4539-1488-\n0343-6467'],
  ])('%s', (_name, text, expected) => expect(found(text)).toEqual([expected]));

  it('look-alike letters', () => {
    expect(found('national insurance АВ 12 34 56 С', 'gb-national-insurance')).toEqual(['АВ 12 34 56 С']);
  });

  it('base 64 that was left over, in one line and in many', () => {
    const text = `The card number is ${CARD} for the refund of the crossing, thank you very much indeed.`;
    for (const encoded of [base64(text), base64(text).replace(/(.{60})/g, '$1\r\n')]) {
      const message = `Content-Transfer-Encoding: base64\n\n${encoded}\n`;
      const [place = ''] = found(message);
      expect(
        Buffer.from(`${'AAAA'.slice(0, 0)}${place.replace(/\s/g, '')}`, 'base64').toString('latin1').length,
      ).toBeGreaterThan(12);
      expect(found(message)).toHaveLength(1);
    }
  });

  it('does not join rows of a table, nor numbers listed one a line', () => {
    expect(found('card;4539 1488\n0343 6467;x')).toEqual([]);
    expect(found('cards\n45391488\n03436467\n45391488\n03436467')).toEqual([]);
  });

  it.each([
    ['Chinese', '身份证号码：11010519491231002X。', 'cn-resident', '11010519491231002X'],
    ['Korean', '제 주민등록번호는 971013-9019902입니다', 'kr-resident', '971013-9019902'],
    ['Thai', 'เลขประจำตัวประชาชน1234545678781', 'th-identity', '1234545678781'],
    ['Russian', 'мой ИНН 500100732259, спасибо', 'ru-tax', '500100732259'],
    ['Hebrew', 'תעודת זהות 039337423', 'il-identity', '039337423'],
    ['Greek', 'ΑΜΚΑ: 01013099997', 'gr-amka', '01013099997'],
  ])('works in %s', (_name, text, pattern, expected) => expect(found(text, pattern)).toEqual([expected]));
});

describe('texts from strangers', () => {
  it.each([
    ['one endless line', 'card 4539148803436467 '.repeat(20_000)],
    [
      'binary',
      String.fromCharCode(...Array.from({ length: 60_000 }, (_unused, index) => (index * 7919) % 65_536)),
    ],
    ['lone surrogates', '\ud800'.repeat(100_000)],
    ['a million digits', '7'.repeat(1_000_000)],
    ['separators only', '- ./:;,|'.repeat(60_000)],
    ['nothing but ampersands', '&'.repeat(200_000)],
    ['nothing but equals signs', '=3D'.repeat(60_000)],
    ['unclosed markup', '<a href="'.repeat(30_000)],
  ])('%s: answered, in order, within the text', (_name, text) => {
    let previous = 0;
    for (const finding of scanner.scan(text).findings) {
      expect(finding.start).toBeGreaterThanOrEqual(previous);
      expect(finding.end).toBeLessThanOrEqual(text.length);
      previous = finding.start;
    }
  });

  it('says where it stopped counting', () => {
    const { findings, cutShort } = scanner.scan('bea@islandholidays.example '.repeat(100_050));
    expect(cutShort).toEqual(['mail-address']);
    expect(findings).toHaveLength(100_000);
  });
});
