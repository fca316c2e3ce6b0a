import type { AudienceEffect } from '@lantern/core/directory';
import { people } from '../../wording/directory';

/** What would mean other people or machines than now: policies, rules, offers. */
export function Effects({
  effects,
  none,
  counted = people,
}: {
  readonly effects: readonly AudienceEffect[];
  readonly none: string;
  /** So many of them, in words. */
  readonly counted?: (count: number) => string;
}) {
  if (effects.length === 0) return <p className="text-[12.5px] text-ink-2">{none}</p>;
  return (
    <ul className="mt-1 list-disc pl-5">
      {effects.map(({ of, joining, leaving, examples }, index) => (
        <li key={index}>
          {of}:{' '}
          {[
            joining > 0 ? `newly applies to ${counted(joining)}` : '',
            leaving > 0 ? `no longer applies to ${counted(leaving)}` : '',
          ]
            .filter(Boolean)
            .join(', ')}
          <span className="text-[12.5px] text-ink-2">
            {' '}
            ({examples.join(', ')}
            {joining + leaving > examples.length ? ', …' : ''})
          </span>
        </li>
      ))}
    </ul>
  );
}
