import type { IntakeVerdict, PersonNotice } from '@lantern/contracts';

/** What the client is answered: a code of RFC 5321 with a status of RFC 3463, and words for people. */
export interface SmtpAnswer {
  readonly code: number;
  readonly words: string;
}

/** The answer to a mail that was judged. */
export function answerFor({ state, notice, incident, recipients }: IntakeVerdict): SmtpAnswer {
  const number = incident === null ? '' : ` Recorded as incident ${incident}.`;
  const some = recipients.some(({ goesOn }) => goesOn);
  if (state === 'refused' && !some)
    return {
      code: 550,
      words: `5.7.1 ${oneLine(notice?.text ?? '') || 'A policy of this organisation blocks this mail.'}${number}`,
    };
  if (state === 'refused')
    return {
      code: 250,
      words: `2.0.0 Taken for ${count(recipients, true)} and refused for ${count(recipients, false)}.${number}`,
    };
  if (state === 'waiting')
    return {
      code: 250,
      words: `2.0.0 Taken; it waits for ${notice?.ask ? 'your answer in the mail window' : 'a decision'}.${number}`,
    };
  return { code: 250, words: '2.0.0 Taken' };
}

/** Faults of the database that come back with the same mail: trying again would not help. */
const PERMANENT = new Set(['ER_DATA_TOO_LONG', 'ER_TRUNCATED_WRONG_VALUE', 'ER_NET_PACKET_TOO_LARGE']);

/** The answer where a mail could not be judged: 5xx where trying again would end alike, else 451. */
export function answerForFailure(error: unknown): SmtpAnswer {
  const { code, status, message } = (typeof error === 'object' && error !== null ? error : {}) as {
    readonly code?: unknown;
    readonly status?: unknown;
    readonly message?: unknown;
  };
  if (typeof status === 'number' && status < 500)
    return { code: 550, words: `5.7.1 ${oneLine(String(message))}` };
  if (PERMANENT.has(String(code)))
    return {
      code: 554,
      words: '5.6.0 The server cannot store this mail; do not send it again',
    };
  return { code: 451, words: '4.3.0 The server could not judge this mail now; try again later' };
}

/** What an advice says in a mail: the author's words, what was found, and where to ask. */
export function adviceText({ text, found, policyName, incident }: PersonNotice): string {
  const seen = found.map(({ distinct, patternName }) => `  ${distinct} × ${patternName}`);
  return [
    'Your mail was sent. Please read this advice before you send a similar one.',
    '',
    text || 'A policy of your organisation applies to this mail.',
    ...(seen.length > 0 ? ['', 'Found in it:', ...seen] : []),
    '',
    `Policy: ${policyName || 'not named'}. Recorded as incident ${incident}.`,
  ].join('\n');
}

const count = (recipients: IntakeVerdict['recipients'], goesOn: boolean): number =>
  recipients.filter((each) => each.goesOn === goesOn).length;

/** Words of an author on one line of a reply, and no longer than clients take (RFC 5321, 4.5.3.1.5: 512 octets). */
function oneLine(text: string): string {
  const line = text.replace(/\s+/g, ' ').trim();
  return line.length > 380 ? `${line.slice(0, 379)}…` : line;
}
