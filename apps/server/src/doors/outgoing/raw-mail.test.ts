import { treated } from './raw-mail.js';

const raw = (text: string): Buffer => Buffer.from(text, 'latin1');

describe('what treatments write on a mail', () => {
  const mail = raw('From: a@b.example\r\nSubject: Berth\r\n\r\nSubject: in the body stays\r\n');

  it('marks the subject once, however often it goes through', () => {
    const once = treated(mail, [{ kind: 'mark', words: '[ours]' }]);
    expect(once.toString('latin1')).toBe(
      'From: a@b.example\r\nSubject: [ours] Berth\r\n\r\nSubject: in the body stays\r\n',
    );
    expect(treated(once, [{ kind: 'mark', words: '[ours]' }])).toEqual(once);
  });

  it('writes marks of other scripts as encoded words (RFC 2047), and makes a subject where there is none', () => {
    const marked = treated(raw('From: a@b.example\r\n\r\nx\r\n'), [{ kind: 'mark', words: 'Nur für uns' }]);
    expect(marked.toString('latin1')).toBe(
      'From: a@b.example\r\nSubject: =?UTF-8?B?TnVyIGbDvHIgdW5z?=\r\n\r\nx\r\n',
    );
  });

  it('says that it is not to be passed on in a field of the head, once', () => {
    const once = treated(mail, [{ kind: 'no-passing-on' }]);
    expect(once.toString('latin1')).toContain('\r\nSensitivity: Company-Confidential\r\n\r\n');
    expect(treated(once, [{ kind: 'no-passing-on' }])).toEqual(once);
  });

  it('leaves what no treatment is about to the letter', () => {
    const odd = Buffer.concat([mail, Buffer.from([0x00, 0xff, 0x80])]);
    expect(treated(odd, [])).toEqual(odd);
    expect(treated(raw('no head at all'), [])).toEqual(raw('no head at all'));
  });
});
