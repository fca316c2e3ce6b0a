import type { PersonNotice } from '@lantern/contracts';

/** What happened to the mail, in a line. */
export function headOf({ answer, state }: Pick<PersonNotice, 'answer' | 'state'>): string {
  switch (state) {
    case 'told':
      return 'Your mail was sent. A word about it';
    case 'waiting':
      return answer === 'ask'
        ? 'Before your mail goes, a question'
        : 'Your mail waits until somebody has looked at it';
    case 'went-on':
      return 'Your mail was sent';
    case 'taken-back':
      return 'Your mail was taken back';
    case 'refused':
      return 'Your mail was not sent';
  }
}
