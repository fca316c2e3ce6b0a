import { type Automatic, isPersonsStore } from '@lantern/core/labels';
import { REACH_WORDS } from '../../wording/labels';
import { FILE_KIND_WORDS } from '../../wording/terms';

/** An automatic rule as a sentence. */
export function automaticSentence(rule: Omit<Automatic, 'id'>, names: ReadonlyMap<string, string>): string {
  const content = rule.content.map(
    ({ pattern, distinct, certainty, atLeast }) =>
      `at least ${atLeast}${distinct && atLeast > 1 ? ' different' : ''} ${names.get(pattern) ?? pattern}, certain to ${certainty} or more`,
  );
  const holds =
    content.length === 0 ? '' : ` holds ${content.join(rule.quantity === 'any' ? ', or ' : ', and ')}`;
  const kinds =
    rule.kinds.length === 0
      ? ''
      : ` is ${rule.kinds.map((kind) => FILE_KIND_WORDS[kind as keyof typeof FILE_KIND_WORDS] ?? kind).join(' or ')}`;
  const places =
    rule.places.length === 0
      ? ''
      : ` lies in ${rule.places.map((place) => (isPersonsStore(place) ? `a place of ${place}` : place)).join(' or ')}`;
  const conditions = [holds, kinds, places].filter((part) => part !== '');
  const shared = rule.sharedWith === 'anybody' ? '' : `, ${REACH_WORDS[rule.sharedWith]}`;
  const label = names.get(rule.label) ?? 'a label that was removed';
  const does = rule.does === 'apply' ? `set ${label}` : `suggest ${label}`;
  const lowers = rule.lowersPeople ? ', even if a person chose a higher label' : '';
  const limit = rule.atMost === null ? '' : ` At most ${rule.atMost} in one run.`;
  return `When an item${conditions.length === 0 ? ' exists' : conditions.join(' and')}${shared}: ${does}${lowers}.${limit}`;
}
