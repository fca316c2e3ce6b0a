/** Codes of RFC 5321 (4.2.3) with a status of RFC 3463. */
import type { IntakeVerdict, PersonNotice } from '@lantern/contracts';
import { AppError } from '../../platform/errors/app-error.js';
import { answerFor, answerForFailure } from './smtp-answers.js';

const verdict = (over: Partial<IntakeVerdict>): IntakeVerdict => ({
  ...{ id: 'i', key: 'k', answer: null, state: 'went-on', treatments: [], label: null },
  ...{ recipients: [], notice: null, incident: null },
  ...over,
});
const notice = (text: string): PersonNotice => ({ text }) as PersonNotice;
const [kept, gone] = [
  { address: 'a@x.example', goesOn: false },
  { address: 'b@x.example', goesOn: true },
];

describe('the answer to a mail', () => {
  it.each<[string, Partial<IntakeVerdict>, number, string]>([
    ['goes on', {}, 250, '2.0.0 Taken'],
    [
      'waits',
      { state: 'waiting', incident: 7 },
      250,
      '2.0.0 Taken; it waits for a decision. Recorded as incident 7.',
    ],
    [
      'is refused',
      { state: 'refused', recipients: [kept] },
      550,
      '5.7.1 A policy of this organisation blocks this mail.',
    ],
    [
      'is refused for some',
      { state: 'refused', recipients: [kept, gone] },
      250,
      '2.0.0 Taken for 1 and refused for 1.',
    ],
  ])('that %s', (_what, over, code, words) => expect(answerFor(verdict(over))).toEqual({ code, words }));

  it('stays one line of a reply, whatever an author wrote (RFC 5321, 4.5.3.1.5)', () => {
    const { words } = answerFor(
      verdict({ state: 'refused', notice: notice(`a\r\n250 OK\n${'x'.repeat(2_000)}`) }),
    );
    expect(words).not.toMatch(/[\r\n]/);
    expect(Buffer.byteLength(words)).toBeLessThan(512);
  });

  it.each([
    [Object.assign(new Error('x'), { code: 'ER_DATA_TOO_LONG' }), 554],
    [Object.assign(new Error('x'), { code: 'ER_LOCK_DEADLOCK' }), 451],
    [new AppError('invalid-request', 'It has no sender.'), 550],
    [new AppError('busy', 'Too much.'), 451],
    [new Error('secret words'), 451],
    [null, 451],
  ])('that could not be judged: %s', (error, code) => {
    const answer = answerForFailure(error);
    expect(answer.code).toBe(code);
    expect(answer.words).not.toContain('secret');
  });
});
