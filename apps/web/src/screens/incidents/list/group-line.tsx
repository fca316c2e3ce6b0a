import type { GroupRow } from '@lantern/contracts';
import type { FieldName } from '@lantern/core/incidents';
import { valueWords } from '../../../wording/desk';
import { shortTime } from '../../../wording/times';
import { SeverityTicks } from './severity-ticks';

interface Props {
  readonly by: readonly FieldName[];
  readonly group: GroupRow;
  readonly isOpen: boolean;
  readonly chosen: boolean;
  readonly onOpen: () => void;
  readonly onPick: (() => void) | undefined;
}

/** A group of incidents: what they share, how many are open and decided, the newest. It opens in place. */
export function GroupLine({ by, group, isOpen, chosen, onOpen, onPick }: Props) {
  const words = group.values
    .map(({ value, label }, at) => valueWords(by[at] ?? 'policy', value, label))
    .join(' · ');
  const { falsePositive, allowed, harm } = group.decided;
  const decided = [
    ...(falsePositive > 0 ? [`${falsePositive} false`] : []),
    ...(allowed > 0 ? [`${allowed} allowed`] : []),
    ...(harm > 0 ? [`${harm} harm`] : []),
  ];
  return (
    <div
      className={`flex h-full items-center border-b border-l-[3px] border-b-rule bg-sunk ${chosen ? 'border-l-ink' : 'border-l-transparent'}`}
    >
      <button
        type="button"
        aria-expanded={isOpen}
        aria-current={chosen ? 'true' : undefined}
        className="flex min-w-0 flex-1 flex-col px-2 text-left"
        onClick={onOpen}
      >
        <span className="flex items-baseline gap-1.5 leading-[17px]">
          <span aria-hidden className="w-3 text-ink-2">
            {isOpen ? '▾' : '▸'}
          </span>
          <SeverityTicks severity={group.worst} />
          <b className="min-w-0 flex-1 truncate">{words}</b>
          <span className="text-[12px] whitespace-nowrap text-ink-2">
            {shortTime(group.newest, new Date())}
          </span>
        </span>
        <span className="truncate pl-[18px] text-[12px] leading-[15px] text-ink-2">
          {group.open.toLocaleString('en-GB')} open of {group.incidents.toLocaleString('en-GB')}
          {group.overdue > 0 && <b className="text-stop">, {group.overdue} overdue</b>}
          {decided.length > 0 && `; decided: ${decided.join(', ')}`}
        </span>
      </button>
      {onPick && (
        <button
          type="button"
          className="part mr-2 text-[12px] whitespace-nowrap"
          aria-label={`Pick group ${words}`}
          onClick={onPick}
        >
          Pick all
        </button>
      )}
    </div>
  );
}
