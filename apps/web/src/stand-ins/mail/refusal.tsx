import type { MailNotice } from '@lantern/contracts';
import { UNREADABLE_WORDS } from '../../wording/terms';

interface Props {
  readonly notice: MailNotice;
  readonly onTakeOutOutside: () => void;
}

/** What the person is told: what was stopped, why, by which rule, what to do now, and that it is recorded. */
export function Refusal({ notice, onTakeOutOutside }: Props) {
  return (
    <section
      role="alert"
      aria-labelledby="refusal"
      className="my-4 max-w-3xl border border-l-[5px] border-stop bg-stop-soft px-4 py-3"
    >
      <h2 id="refusal" className="!text-[16px] !text-ink">
        Your mail was not sent
      </h2>
      {notice.found.map((found) => (
        <p key={found.pattern}>
          It holds{' '}
          <b>
            {found.distinct} × {found.patternName}
          </b>{' '}
          in {found.where.join(', ')}
          {notice.outside.length > 0 && (
            <>
              , and {notice.outside.join(', ')} {notice.outside.length === 1 ? 'is' : 'are'} outside the
              organisation
            </>
          )}
          .
        </p>
      ))}
      {notice.unreadable.map((part) => (
        <p key={part.name}>
          {part.name} could not be checked: {UNREADABLE_WORDS[part.reason]}.
        </p>
      ))}
      <p className="mt-1">{notice.text}</p>
      <p className="mt-2 flex gap-2">
        {notice.outside.length > 0 && (
          <button
            type="button"
            onClick={onTakeOutOutside}
            className="rounded border border-rule-strong bg-white px-2.5 py-1"
          >
            Take out the outside {notice.outside.length === 1 ? 'address' : 'addresses'}
          </button>
        )}
      </p>
      <p className="mt-2 text-[12.5px] text-ink-2">
        Rule {notice.ruleNumber} of "{notice.policyName}". This is recorded. Your mail is kept as a draft:
        change it below and send it again.
      </p>
    </section>
  );
}
