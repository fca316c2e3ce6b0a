import { type Label, type LabelledHow, printedMarks } from '@lantern/core/labels';
import type { MailLabel } from '../../movements/mail/mailboxes.js';

/** A label on a mail, with the lines it prints as they are on the day it goes. */
export function mailLabel(
  label: Label,
  { how, sender, at }: { readonly how: LabelledHow; readonly sender: string; readonly at: Date },
): MailLabel {
  const marks = printedMarks(label, { owner: sender, setter: sender, at: at.getTime(), how });
  const lines = (place: string) => marks.filter((mark) => mark.place === place).map(({ line }) => line);
  const { id, name, rank, colour } = label;
  return { id, name, rank, how, colour, top: lines('top'), foot: lines('foot') };
}

/** Subject and text as their readers see them, each mark once however often the mail is sent on. */
export function labelledMail(
  mail: { readonly subject: string; readonly body: string },
  label: MailLabel | null,
): { readonly subject: string; readonly body: string } {
  if (!label || label.top.length + label.foot.length === 0) return { subject: mail.subject, body: mail.body };
  const mark = `[${label.name}] `;
  const top = label.top.join('\n');
  const foot = label.foot.join('\n');
  const above = top === '' || mail.body.startsWith(`${top}\n`) ? '' : `${top}\n\n`;
  const below = foot === '' || mail.body.endsWith(`\n${foot}`) ? '' : `\n\n${foot}`;
  return {
    subject: mail.subject.startsWith(mark) ? mail.subject : `${mark}${mail.subject}`,
    body: `${above}${mail.body}${below}`,
  };
}
