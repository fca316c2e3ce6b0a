import { openMail } from '@lantern/files';
import { refusalReport, type RefusedMail } from './refusal-report.js';

const mail = (over: Partial<RefusedMail> = {}): RefusedMail => ({
  sender: 'clerk@partner.example',
  domain: 'house.example',
  refused: ['first@elsewhere.example', 'second@elsewhere.example'],
  words: 'Use the portal.',
  raw: Buffer.from('From: clerk@partner.example\r\nMessage-ID: <1@partner.example>\r\n\r\nSecret text\r\n'),
  at: new Date('2026-11-26T10:00:00Z'),
  ...over,
});
const built = async (over: Partial<RefusedMail> = {}): Promise<string> =>
  (await refusalReport(mail(over))).toString('latin1');

describe('the report of a refusal', () => {
  it('is a multipart/report of three parts (RFC 6522, section 3), made by a program (RFC 3834)', async () => {
    const text = await built();
    expect(text).toMatch(/^Content-Type: multipart\/report; report-type=delivery-status;/im);
    expect(text).toMatch(/^Auto-Submitted: auto-replied\r$/im);
    const parts = [
      ...text.matchAll(/^Content-Type: (text\/plain|message\/delivery-status|text\/rfc822-headers)/gim),
    ];
    expect(parts.map(([, type]) => type)).toEqual([
      'text/plain',
      'message/delivery-status',
      'text/rfc822-headers',
    ]);
  });

  it('says the fields of the message once and those of each receiver in a group of their own (RFC 3464, 2.2 and 2.3)', async () => {
    const text = await built();
    const fields = text.slice(text.indexOf('Reporting-MTA')).split('\r\n\r\n');
    expect(fields[0]).toBe(
      'Reporting-MTA: dns; house.example\r\nArrival-Date: Thu, 26 Nov 2026 10:00:00 +0000',
    );
    const groups = fields.filter((group) => group.includes('Final-Recipient'));
    expect(groups.map((group) => group.trim().split('\r\n').slice(0, 4))).toEqual(
      ['first', 'second'].map((name) => [
        `Final-Recipient: rfc822; ${name}@elsewhere.example`,
        'Action: failed',
        'Status: 5.7.1',
        'Diagnostic-Code: smtp; 550 5.7.1 Use the portal.',
      ]),
    );
  });

  it('tells people in words, and gives nothing back of the text', async () => {
    const opened = await openMail(await refusalReport(mail({ words: 'Bitte das Portal für Gäste nehmen.' })));
    const words = opened.texts.map((each) => each.text).join('\n');
    expect(words).toContain('first@elsewhere.example');
    expect(words).toContain('Bitte das Portal für Gäste nehmen.');
    const text = await built();
    expect(text).toContain('Message-ID: <1@partner.example>');
    expect(text).not.toContain('Secret text');
  });

  it('keeps the fields for programs in ASCII', async () => {
    expect(await built({ words: 'Für Gäste' })).toContain('Diagnostic-Code: smtp; 550 5.7.1 F?r G?ste');
  });

  it.each([
    ['a mail without an end of its head', Buffer.from('From: a@b.example')],
    [
      'a head of a megabyte',
      Buffer.concat([Buffer.from('X-Long: '), Buffer.alloc(1_000_000, 'x'), Buffer.from('\r\n\r\n')]),
    ],
    ['nothing at all', Buffer.alloc(0)],
  ])('is made for %s', async (_what, raw) => {
    const report = await refusalReport(mail({ raw }));
    expect(report.length).toBeLessThan(60_000);
    expect(report.toString('latin1')).toContain('Final-Recipient');
  });
});
