import { chance } from '@lantern/testkit';
import iconv from 'iconv-lite';
import { decodeText } from './text.js';

const PROSE: readonly (readonly [string, string])[] = [
  [
    'windows-1252',
    'Die Überfahrt nach Saltwick wurde wegen des Sturms verschoben; alle Gäste erhalten eine Entschädigung. Grüße aus dem Büro.',
  ],
  [
    'windows-1251',
    'Паром отправляется в восемь часов утра. Пожалуйста, возьмите с собой паспорт и билет для каждого пассажира.',
  ],
  [
    'iso-8859-2',
    'Prosím, pošlete nám seznam cestujících a čísla pasů nejpozději do zítřejšího rána, děkujeme.',
  ],
  ['shift_jis', '乗客名簿とパスポート番号を明日の朝までに送ってください。よろしくお願いいたします。'],
  ['gb18030', '请在明天早上之前将乘客名单和护照号码发送给我们。谢谢您的帮助和理解。'],
  ['big5', '請在明天早上之前將乘客名單和護照號碼寄給我們。謝謝您的幫助和理解。'],
  ['euc-kr', '내일 아침까지 승객 명단과 여권 번호를 보내 주시기 바랍니다. 감사합니다.'],
  [
    'koi8-r',
    'Паром отправляется в восемь часов утра. Пожалуйста, возьмите с собой паспорт и билет для каждого пассажира.',
  ],
];

describe('decodeText', () => {
  it.each(PROSE)('reads prose in %s, and the digits in it', (encoding, text) => {
    const decoded = decodeText(iconv.encode(`${text.repeat(3)} 4539 1488 0343 6467`, encoding));
    expect(decoded).toContain(text.slice(0, 12));
    expect(decoded).toContain('4539 1488 0343 6467');
  });

  it('keeps ASCII in any single-byte page as it is, whatever is guessed', () => {
    const random = chance(7);
    for (let round = 0; round < 200; round += 1) {
      const bytes = Buffer.concat([
        Buffer.from('card 4539148803436467 '),
        Buffer.from(Array.from({ length: 40 }, () => random.whole(0xc0, 0xff))),
      ]);
      expect(decodeText(bytes)).toContain('4539148803436467');
    }
  });

  it.each([
    ['nothing', '', ''],
    ['a lone line break', '\n', '\n'],
    ['tabs and form feeds', 'a\tb\fc', 'a\tb\fc'],
    ['characters outside the basic plane', '𝔸 🜨', '𝔸 🜨'],
  ])('reads %s', (_name, text, expected) => expect(decodeText(Buffer.from(text))).toBe(expected));

  it.each([
    ['a zero byte in the middle', Buffer.from('text\0text')],
    ['a compressed stream', Buffer.from('1f8b0800000000000003', 'hex')],
    [
      'control bytes throughout',
      Buffer.from(Array.from({ length: 300 }, (_unused, index) => (index % 30) + 1).concat([0xff])),
    ],
  ])('does not take %s for text', (_name, bytes) => expect(decodeText(bytes)).toBeUndefined());

  it('reads a view into a larger buffer and nothing around it', () => {
    const whole = Buffer.from('secret|visible|secret');
    expect(decodeText(new Uint8Array(whole.buffer, whole.byteOffset + 7, 7))).toBe('visible');
  });
});
