import { STARTER_LABELS } from '@lantern/demo';
import { labelledMail, mailLabel } from './labelled.js';

const named = (name: string) => STARTER_LABELS.labels.find((label) => label.name === name)!;
const on = {
  how: 'by-hand',
  sender: 'ada@merrowstrait.example',
  at: new Date('2026-11-26T00:00:00Z'),
} as const;

describe('labelledMail', () => {
  const bridge = mailLabel(named('Bridge only'), on);

  it('prints above and below the text and before the subject', () => {
    expect(labelledMail({ subject: 'Gates', body: 'Words' }, bridge)).toEqual({
      subject: '[Bridge only] Gates',
      body: 'Bridge only · ada@merrowstrait.example\n\nWords\n\nSet by hand on 2026-11-26',
    });
  });

  it('prints once, however often the mail is sent on', () => {
    const once = labelledMail({ subject: 'Gates', body: 'Words' }, bridge);
    expect(labelledMail(once, bridge)).toEqual(once);
  });

  it('leaves a mail without a label as it is', () => {
    expect(labelledMail({ subject: 'Gates', body: 'Words' }, null)).toEqual({
      subject: 'Gates',
      body: 'Words',
    });
  });
});
