import type { IncidentRow, MatchRow, MovementRow } from '@lantern/contracts';
import { usePatternNames } from '../../../data/patterns';
import { Beam } from '../../../shared/beam/beam';
import { incidentTitle } from '../../../wording/incidents';
import { ANSWER_DONE, CHANNEL_WORDS, OUTCOME_WORDS, SEVERITY_WORDS } from '../../../wording/terms';
import { exactTime, shortTime } from '../../../wording/times';
import { SeverityTicks } from './severity-ticks';

interface FrameProps {
  readonly chosen: boolean;
  readonly picked?: boolean;
  readonly onChoose: () => void;
  readonly onPick?: () => void;
  readonly label: string;
  readonly children: React.ReactNode;
}

/** A row of any list; the box at its edge picks it for a decision together with others. */
function Frame({ chosen, picked = false, onChoose, onPick, label, children }: FrameProps) {
  return (
    <div
      className={`flex h-full border-b border-l-[3px] border-b-rule ${chosen ? 'border-l-ink bg-sheet' : picked ? 'border-l-press bg-press-soft' : 'border-l-transparent hover:bg-press-soft'}`}
    >
      {onPick && (
        <label className="flex w-7 flex-none cursor-pointer items-center justify-center">
          <input
            type="checkbox"
            tabIndex={-1}
            aria-label={`Pick ${label}`}
            checked={picked}
            onChange={(event) => {
              // A box in focus would swallow the keys of the desk.
              event.currentTarget.blur();
              onPick();
            }}
          />
        </label>
      )}
      <button
        type="button"
        aria-current={chosen ? 'true' : undefined}
        onClick={onChoose}
        className={`flex min-w-0 flex-1 flex-col justify-center pr-3 text-left ${onPick ? '' : 'pl-3'}`}
      >
        {children}
      </button>
    </div>
  );
}

/** Who moved it by what to where, and what became of it. */
function RowBeam({
  row,
  lit,
}: {
  readonly row: Pick<MovementRow, 'person' | 'channel' | 'destinations' | 'answer'>;
  readonly lit: boolean;
}) {
  return (
    <Beam
      from={row.person.name}
      by={CHANNEL_WORDS[row.channel]}
      to={row.destinations[0] ?? ''}
      answer={row.answer}
      lit={lit}
      tight
    />
  );
}

function When({ at }: { readonly at: string }) {
  return (
    <span className="text-[12px] whitespace-nowrap text-ink-2" title={exactTime(at)}>
      {shortTime(at, new Date())}
    </span>
  );
}

interface RowProps<Row> {
  readonly row: Row;
  readonly chosen: boolean;
  readonly onChoose: () => void;
}

export function IncidentLine({
  row,
  chosen,
  onChoose,
  picked,
  onPick,
  detailed,
}: RowProps<IncidentRow> & {
  readonly picked: boolean;
  readonly onPick: (() => void) | undefined;
  readonly detailed: boolean;
}) {
  const names = usePatternNames();
  const first = row.counts[0];
  const held = first ? `${first.distinct} distinct` : row.unreadableParts > 0 ? 'could not be read' : '';
  const state = row.outcome ? OUTCOME_WORDS[row.outcome] : row.status === 'new' ? '' : (row.assignee ?? '');
  return (
    <Frame
      chosen={chosen}
      picked={picked}
      onChoose={onChoose}
      label={`incident ${row.number}`}
      {...(onPick ? { onPick } : {})}
    >
      <span className="flex w-full items-baseline gap-1.5 leading-[17px]">
        <SeverityTicks severity={row.severity} />
        <b className={`truncate ${row.status === 'decided' ? 'font-normal text-ink-2' : ''}`}>
          {incidentTitle({ ...row, destinations: [] }, names)}
        </b>
        <span className="min-w-0 flex-1 truncate text-[12px] text-ink-2">
          {row.origin !== null && (
            <b className="text-ink">
              {row.origin}
              {held && ', '}
            </b>
          )}
          {row.reported && <b className="text-ink">reported as false, </b>}
          {row.case !== null && <b className="text-ink">case, </b>}
          {row.test && <b className="text-ink">our test, </b>}
          {held}
        </span>
        <When at={row.at} />
      </span>
      <span className="flex w-full items-center gap-3 leading-[15px]">
        <span className="min-w-0 flex-1">
          <RowBeam row={row} lit={row.counts.length > 0} />
        </span>
        <span
          className="max-w-32 truncate text-[12px] whitespace-nowrap text-ink-2"
          title={`${SEVERITY_WORDS[row.severity]}, urgency ${row.urgency}`}
        >
          {row.overdue && <b className="text-stop">overdue </b>}
          {state} {row.status !== 'decided' && row.urgency}
        </span>
      </span>
      {detailed && (
        <span className="flex w-full justify-between gap-3 text-[12px] leading-[16px] text-ink-2">
          <span className="truncate">{row.title ?? 'No title'}</span>
          <span className="whitespace-nowrap">
            {row.dueAt && row.status !== 'decided' && `due ${shortTime(row.dueAt, new Date())}`}
          </span>
        </span>
      )}
    </Frame>
  );
}

export function MatchLine({ row, chosen, onChoose }: RowProps<MatchRow>) {
  return (
    <Frame chosen={chosen} onChoose={onChoose} label={`match of incident ${row.incident}`}>
      <span className="flex w-full items-baseline gap-1.5 leading-[17px]">
        <SeverityTicks severity={row.severity} />
        <b className="truncate">{row.rule ?? (row.label ? `Label ${row.label}` : 'Rule that was deleted')}</b>
        <span className="min-w-0 flex-1 truncate text-[12px] text-ink-2">
          {row.policy} · incident {row.incident}
        </span>
        <When at={row.at} />
      </span>
      <span className="flex w-full items-center gap-3 leading-[15px]">
        <span className="min-w-0 flex-1">
          <RowBeam row={row} lit />
        </span>
        <span className="text-[12px] whitespace-nowrap text-ink-2">
          {row.outcome ? OUTCOME_WORDS[row.outcome] : ANSWER_DONE[row.answer]}
        </span>
      </span>
    </Frame>
  );
}

export function MovementLine({ row, chosen, onChoose }: RowProps<MovementRow>) {
  return (
    <Frame chosen={chosen} onChoose={onChoose} label="movement">
      <span className="flex w-full items-baseline gap-1.5 leading-[17px]">
        <span className="min-w-0 flex-1 truncate">{row.title ?? row.destinations[0] ?? 'No title'}</span>
        <span className="text-[12px] whitespace-nowrap text-ink-2">
          {row.incident === null ? 'no match' : `incident ${row.incident}`}
        </span>
        <When at={row.at} />
      </span>
      <span className="leading-[15px]">
        <RowBeam row={row} lit={row.incident !== null} />
      </span>
    </Frame>
  );
}
