import type { DraftChange } from '@lantern/contracts';
import type { Policy } from '@lantern/core/policy';
import { Link } from 'react-router';
import { type Names, policySentences, ruleSentence } from '../../wording/sentence';
import { STATE_WORDS } from '../../wording/terms';

interface ListProps {
  readonly changes: readonly DraftChange[];
  readonly names: Names;
  /** Whether the things are drafts that can be opened. */
  readonly linked?: boolean;
}

/** What differs, sentence by sentence. */
export function ChangeList({ changes, names, linked = true }: ListProps) {
  return changes.map((change) => (
    <ChangeCard key={`${change.subject}${change.id}`} change={change} names={names} linked={linked} />
  ));
}

const PLACES = {
  pattern: '/patterns/',
  label: '/labels/',
  offer: '/labels/offers?open=',
  automatic: '/labels/automatic?open=',
  policy: '/policies/',
  text: '/policies/texts?open=',
  exchange: '/policies/exchanges?open=',
  spots: '/policies/spots?open=',
  service: '/automations/services?open=',
  workspace: '/automations/services?open=',
  'crossing-set': '/automations/sets?open=',
} as const;

const SUBJECTS: Readonly<Record<DraftChange['subject'], string>> = {
  pattern: 'pattern',
  label: 'label',
  offer: 'label offer',
  automatic: 'automatic label',
  policy: 'policy',
  text: 'text',
  exchange: 'exchange',
  spots: 'group of applications and sites',
  order: '',
  service: 'service',
  workspace: 'workspace',
  'crossing-set': 'set of what may cross',
};

function ChangeCard({ change, names, linked }: { change: DraftChange; names: Names; linked: boolean }) {
  const name = change.name || 'Unnamed policy';
  const to =
    !linked || change.state === 'removed' || change.subject === 'order'
      ? null
      : `${PLACES[change.subject]}${change.id}`;
  return (
    <article className="mb-3 rounded border border-rule bg-sheet px-4 py-2.5">
      <p className="mb-1">
        {change.subject === 'order' ? (
          <b>Policies are read in a different order</b>
        ) : to ? (
          <Link className="part" to={to}>
            {name}
          </Link>
        ) : (
          <b>{name}</b>
        )}{' '}
        <span className="text-[12.5px] text-ink-2">
          {change.subject === 'order' ? name : `${SUBJECTS[change.subject]}, ${STATE_WORDS[change.state]}`}
        </span>
      </p>
      {change.subject === 'policy' && <Sentences before={change.before} after={change.after} names={names} />}
    </article>
  );
}

interface SentencesProps {
  readonly before: Policy | null;
  readonly after: Policy | null;
  readonly names: Names;
}

function Sentences({ before, after, names }: SentencesProps) {
  const sentences = (policy: Policy | null): string[] =>
    policy
      ? [...policySentences(policy, names), ...policy.rules.map((rule) => ruleSentence(rule, names))]
      : [];
  const was = sentences(before);
  const becomes = sentences(after);
  return (
    <ul className="text-[13px]">
      {was
        .filter((sentence) => !becomes.includes(sentence))
        .map((sentence, index) => (
          <li key={`was ${index}`} className="bg-stop-soft px-2 py-0.5">
            <span className="font-semibold">no longer: </span>
            <del>{sentence}</del>
          </li>
        ))}
      {becomes.map((sentence, index) => (
        <li
          key={`now ${index}`}
          className={was.includes(sentence) ? 'px-2 py-0.5 text-ink-2' : 'bg-go-soft px-2 py-0.5'}
        >
          {!was.includes(sentence) && <span className="font-semibold">new: </span>}
          {sentence}
        </li>
      ))}
    </ul>
  );
}
