import { readHtml } from './html.js';
import { emlFile } from '@lantern/testkit';
import { looksLikeMail } from './looks-like-mail.js';
import { openMail } from './mail.js';

describe('looksLikeMail', () => {
  it.each([
    ['the usual fields', 'From: a@b.example\r\nTo: c@d.example\r\nSubject: x\r\n\r\nbody'],
    ['trace fields first', 'Received: from x\r\n by y\r\nDate: today\r\n\r\n'],
    ['a mailbox line in front', 'From a@b.example Mon Nov 23\nFrom: a@b.example\nSubject: x\n\nbody'],
    ['lines that only feed', 'Message-ID: <1@x>\nMIME-Version: 1.0\n\n'],
  ])('knows a mail by %s', (_name, text) => expect(looksLikeMail(text)).toBe(true));

  it.each([
    ['prose', 'Dear all,\nFrom now on we sail at eight.\nTo be continued.'],
    ['notes with colons', 'Name: Ada\nPort: Northquay\n\nText'],
    ['a single field', 'Subject: x\n\nbody'],
    ['settings', 'key: value\nother: value\nsubject-line: value\n'],
    ['nothing', ''],
  ])('does not take %s for one', (_name, text) => expect(looksLikeMail(text)).toBe(false));

  it('answers at once on a header block without end', () => {
    const started = performance.now();
    looksLikeMail(`${'X-Header: value\r\n '.repeat(200_000)}`.slice(0, 16_384));
    looksLikeMail('a:'.repeat(8_000));
    expect(performance.now() - started).toBeLessThan(2_000);
  });
});

const htmlText = (html: string): string => readHtml(html).shown;

describe('the text of a page', () => {
  it.each([
    ['hidden elements', '<p>a</p><div style="display:none">b</div>', /a\s+b/],
    [
      'table cells',
      '<table><tr><th>Card</th><th>x</th></tr><tr><td>4539</td><td>1</td></tr></table>',
      /Card\s+x\n4539\s+1/,
    ],
    ['entities', '<p>&#52;539 &amp; &eacute;</p>', /4539 & é/],
    ['link texts without their addresses', '<a href="https://x.example">here</a>', /^here$/],
    ['text outside any element', 'just text', /just text/],
  ])('reads %s', (_name, html, expected) => expect(htmlText(html)).toMatch(expected));

  it('leaves scripts and styles out', () => {
    expect(htmlText('<style>.x{}</style><script>alert(1)</script><p>text</p>')).toBe('text');
  });

  it('survives markup nested without end', () => {
    expect(() => htmlText(`${'<div>'.repeat(50_000)}deep`)).not.toThrow();
  });
});

describe('openMail', () => {
  it('names sender and recipients of every field, groups included', async () => {
    const raw =
      'From: "A" <A@B.example>\r\nTo: crew: x@d.example, y@d.example;\r\nCc: Z <z@d.example>\r\nSubject: =?utf-8?q?Gr=C3=BC=C3=9Fe?=\r\n\r\nhello';
    const mail = await openMail(Buffer.from(raw));
    expect(mail).toMatchObject({
      from: 'a@b.example',
      recipients: ['x@d.example', 'y@d.example', 'z@d.example'],
      subject: 'Grüße',
    });
  });

  it('keeps one text where plain and formatted say the same, and both where they differ', async () => {
    const fields = { from: 'a@b.example', to: ['c@d.example'], subject: 's' };
    const same = await openMail(await emlFile({ ...fields, text: 'one two', html: '<p>one <b>two</b></p>' }));
    const other = await openMail(await emlFile({ ...fields, text: 'one two', html: '<p>one three</p>' }));
    expect(same.texts.map((text) => text.name)).toEqual(['body']);
    expect(other.texts.map((text) => text.name)).toEqual(['body', 'formatted body']);
  });

  it.each([
    ['quoted-printable', 'quoted-printable', 'card 4539=\r\n148803436467', 'card 4539148803436467'],
    ['base64', 'base64', Buffer.from('card 4539148803436467').toString('base64'), 'card 4539148803436467'],
    ['an encoding nobody knows', 'x-none', 'card 4539148803436467', 'card 4539148803436467'],
  ])('reads a body in %s', async (_name, encoding, body, expected) => {
    const raw = `From: a@b.example\r\nSubject: s\r\nContent-Transfer-Encoding: ${encoding}\r\n\r\n${body}`;
    expect((await openMail(Buffer.from(raw))).texts[0]?.text.trim()).toBe(expected);
  });

  it('reads as far as a mail that breaks off goes', async () => {
    const whole = await emlFile({
      from: 'a@b.example',
      to: ['c@d.example'],
      subject: 's',
      text: 'card 4539148803436467',
      attachments: [{ filename: 'a.txt', content: Buffer.from('x'.repeat(5000)) }],
    });
    const mail = await openMail(whole.subarray(0, whole.length - 2000));
    expect(mail.texts[0]?.text).toContain('4539148803436467');
    expect(mail.attachments).toHaveLength(1);
  });
});
