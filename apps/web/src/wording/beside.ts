import type { AskTerms, HoldTerms, OverrideTerms, Rule } from '@lantern/core/policy';
import { audienceWords } from './audience';
import { spanWords } from './times';

/** How long a question stands: "within 4 hours", "by 17:00 (Europe/Oslo), in 30 minutes at least". */
export function replyWords({ minutes, closes }: AskTerms): string {
  return closes
    ? `by ${closes.time} (${closes.zone}), ${spanWords(minutes)} at least`
    : `within ${spanWords(minutes)}`;
}

/** Who may ask for an override, and who gives it. */
export function overrideWords({ mayAsk, decides, approvers }: OverrideTerms): string {
  return `${audienceWords(mayAsk)} may request an override from ${approvers ? 'two ' : ''}${decides}`;
}

/** By when a held movement is decided, and what follows. */
export function holdWords({ minutes, next, otherwise, approvers }: HoldTerms): string {
  const who = approvers ? 'two people decide' : 'decision';
  const then = next ? `, then ${next} within ${spanWords(minutes)}` : '';
  return `${who} within ${spanWords(minutes)}${then}, otherwise it ${otherwise === 'stays' ? 'is taken back' : 'goes on'}`;
}

/** What a rule says beside its condition and its answer; empty where that is nothing. */
export function besideWords(rule: Rule): string {
  const parts = [
    ...(rule.ask && rule.bands.some(({ answer }) => answer === 'ask')
      ? [
          `a reply ${replyWords(rule.ask)}, otherwise it ${rule.ask.otherwise === 'stays' ? 'stays' : 'goes on'}`,
        ]
      : []),
    ...(rule.override ? [overrideWords(rule.override)] : []),
    ...(rule.hold && rule.bands.some(({ answer }) => answer === 'hold') ? [holdWords(rule.hold)] : []),
    ...rule.tell.map(
      ({ address, when }) => `${address} is told ${when === 'daily' ? 'once a day' : 'at once'}`,
    ),
    ...(rule.keep === 'counts' ? ['only counts are kept'] : []),
    ...(rule.silence ? [`silent until ${rule.silence.until}`] : []),
    ...(rule.bindsFrom ? [`binding from ${rule.bindsFrom}`] : []),
    ...(rule.perRecipient ? ['judged for each recipient separately'] : []),
    ...(rule.endsPolicy ? ['later rules of this policy are skipped'] : []),
  ];
  return parts.map((part) => `; ${part}`).join('');
}
