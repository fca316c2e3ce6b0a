import { newPolicy, newRule } from '@lantern/core/policy';
import type { CoverageView } from '@lantern/contracts';
import type { CoverageCell, CoverageShare } from '@lantern/core/policy';
import { Link, useNavigate, useSearchParams } from 'react-router';
import { useCoverage, useCreatePolicy, usePolicies } from '../../data/policies';
import { useMay } from '../../data/session';
import { Button } from '../../ui/button';
import { EditorPopover } from '../../ui/popover';
import { Loading, Notice } from '../../ui/notice';
import { errorSentence } from '../../wording/errors';
import { ANSWER_MEANING, ANSWER_WORDS, CHANNEL_WORDS, KIND_WORDS } from '../../wording/terms';
import { PolicyPlaces } from '../../shared/policy-places';
import { AutomationCoverage } from './automation-coverage';
import { gapWords } from '../../wording/machine-gaps';
import { isEmpty, shareWords } from './shares';

type Side = 'published' | 'drafts';

/** Kinds of data against ways out: what happens today, to whom, by which rule. Empty cells are the point. */
export function CoveragePage() {
  const [search, setSearch] = useSearchParams();
  const side: Side = search.get('of') === 'drafts' ? 'drafts' : 'published';
  const onlyGaps = search.get('gaps') === 'yes';
  const coverage = useCoverage(side);
  const change = (next: Record<string, string>) =>
    setSearch({ of: side, gaps: onlyGaps ? 'yes' : 'no', ...next });
  return (
    <div className="h-full overflow-auto px-7 py-4">
      <PolicyPlaces />
      <div className="mb-2 flex flex-wrap items-center gap-3">
        <h1 className="flex-1">Coverage</h1>
        <div role="group" aria-label="Judged by" className="flex">
          {(['published', 'drafts'] as const).map((each) => (
            <Button
              key={each}
              look={side === each ? 'plain' : 'quiet'}
              aria-pressed={side === each}
              onClick={() => change({ of: each })}
            >
              {each === 'published' ? 'in force today' : 'by the drafts'}
            </Button>
          ))}
        </div>
        <label className="flex min-h-6 items-center gap-1.5">
          <input
            type="checkbox"
            checked={onlyGaps}
            onChange={(event) => change({ gaps: event.target.checked ? 'yes' : 'no' })}
          />
          Only rows with gaps
        </label>
      </div>
      <p className="mb-3 max-w-4xl text-[13px] text-ink-2">
        Each cell shows the strongest answer for that channel, from the number of values given. We find it by
        judging sample movements. Ceilings count; each answer shows how many people it applies to.
      </p>
      {coverage.isPending && <Loading what="the coverage" />}
      {coverage.isError && <Notice look="stop">{errorSentence(coverage.error)}</Notice>}
      {coverage.data && <Table view={coverage.data} side={side} onlyGaps={onlyGaps} />}
      <AutomationCoverage side={side} />
    </div>
  );
}

function Table({
  view,
  side,
  onlyGaps,
}: {
  readonly view: CoverageView;
  readonly side: Side;
  readonly onlyGaps: boolean;
}) {
  const ways = view.doors.flatMap((door) =>
    (['outside', 'inside'] as const).map((to) => ({ door, to, key: `${door.channel} ${to}` })),
  );
  const cells = new Map(view.cells.map((cell) => [`${cell.pattern} ${cell.channel} ${cell.side}`, cell]));
  const rows = view.patterns.filter(
    ({ id }) => !onlyGaps || ways.some(({ key }) => isEmpty(cells.get(`${id} ${key}`))),
  );
  return (
    <>
      <table className="w-full text-[13px]">
        <thead>
          <tr className="text-left align-bottom">
            <th className="py-1.5 pr-3 font-semibold">what</th>
            {ways.map(({ door, to, key }) => (
              <th key={key} className="px-2 py-1.5 font-semibold">
                {CHANNEL_WORDS[door.channel as keyof typeof CHANNEL_WORDS]}, to the {to}
                {!door.open && (
                  <span className="block font-normal text-stop">
                    Closed, so nothing is inspected here whatever the rules say. {door.why}
                  </span>
                )}
                {to === 'outside' && <DoorGaps gaps={door.gaps} />}
                {to === 'outside' && (
                  <span className="block text-[12px] font-normal text-ink-2">
                    Not read in {door.seconds} s: {UNFINISHED_SHORT[door.unfinished]}
                  </span>
                )}
              </th>
            ))}
          </tr>
        </thead>
        <tbody>
          {rows.map(({ id, name }) => (
            <tr key={id} className="border-t border-rule align-top">
              <th scope="row" className="py-1.5 pr-3 text-left font-normal">
                <Link className="part" to={`/patterns/${id}`}>
                  {name}
                </Link>
              </th>
              {ways.map(({ key, door }) => (
                <Cell
                  key={key}
                  cell={cells.get(`${id} ${key}`)}
                  people={view.people}
                  open={door.open}
                  side={side}
                />
              ))}
            </tr>
          ))}
          {view.unasked.map((unasked) => (
            <Unasked key={unasked.kind} {...{ unasked, ways, cells, side }} people={view.people} />
          ))}
        </tbody>
      </table>
      {rows.length === 0 && <p className="py-4 text-ink-2">No row has a gap.</p>}
    </>
  );
}

/** Agents and machines on which the rules of a channel do not apply fully. */
function DoorGaps({ gaps }: { readonly gaps: CoverageView['doors'][number]['gaps'] }) {
  if (gaps.length === 0) return null;
  const now = new Date();
  return (
    <EditorPopover
      wide
      label="Gaps on machines"
      trigger={
        <button type="button" className="part block text-left text-[12px] font-normal text-stop">
          {gaps.length === 1 ? '1 gap on a machine' : `${gaps.length} gaps on machines`}
        </button>
      }
    >
      <p className="mb-1 text-[12.5px] font-normal">
        The cells show what the rules say. On these machines they do not apply fully:
      </p>
      <ul className="max-h-72 list-disc overflow-auto pl-5 text-[12.5px] font-normal">
        {gaps.map((gap) => (
          <li key={`${gap.name} ${gap.code}`}>{gapWords(gap, now)}</li>
        ))}
      </ul>
      <Link
        className="part text-[12.5px]"
        to={gaps.some(({ isMachine }) => isMachine) ? '/discovery/machines' : '/doors'}
      >
        {gaps.some(({ isMachine }) => isMachine) ? 'Open machines' : 'Open agents'}
      </Link>
    </EditorPopover>
  );
}

interface UnaskedProps {
  readonly unasked: CoverageView['unasked'][number];
  readonly ways: readonly {
    readonly door: CoverageView['doors'][number];
    readonly to: 'outside' | 'inside';
    readonly key: string;
  }[];
  readonly cells: ReadonlyMap<string, CoverageCell>;
  readonly people: number;
  readonly side: Side;
}

/** A kind of data of the library that no rule looks for: a row of gaps. */
function Unasked({ unasked, ways, cells, people, side }: UnaskedProps) {
  const { kind, patterns, first } = unasked;
  return (
    <tr className="border-t border-rule align-top text-ink-2">
      <th scope="row" className="py-1.5 pr-3 text-left font-normal">
        <Link className="part" to={`/patterns?kind=${kind}`}>
          {KIND_WORDS[kind]}
        </Link>
        , {patterns} ready {patterns === 1 ? 'pattern' : 'patterns'} no rule looks for
      </th>
      {ways.map(({ key, door }) => (
        <Cell key={key} cell={cells.get(`${first} ${key}`)} people={people} open={door.open} side={side} />
      ))}
    </tr>
  );
}

/** What happens to a movement that could not be read in time. */
const UNFINISHED_SHORT = { hold: 'held', block: 'blocked', 'let-go': 'allowed' } as const;

/** Thin slanted lines: nothing is there. */
const HATCHED = {
  backgroundImage: 'repeating-linear-gradient(135deg, transparent 0 7px, var(--rule) 7px 8px)',
} as const;

interface CellProps {
  readonly cell: CoverageCell | undefined;
  readonly people: number;
  readonly open: boolean;
  readonly side: Side;
}

function Cell({ cell, people, open, side }: CellProps) {
  if (!cell) return <td />;
  const gap = isEmpty(cell) || !open;
  return (
    <td className="px-2 py-1.5" style={gap ? HATCHED : undefined}>
      <EditorPopover
        wide
        label="Details of this cell"
        trigger={
          <button type="button" className="min-h-6 text-left">
            {cell.shares.map((share, index) => (
              <span key={index} className="block">
                <Words share={share} people={people} />
              </span>
            ))}
          </button>
        }
      >
        <Behind cell={cell} side={side} people={people} />
      </EditorPopover>
    </td>
  );
}

function Words({ share, people }: { readonly share: CoverageShare; readonly people: number }) {
  const words = shareWords(share, people);
  if (share.answer === null) return <span className="text-ink-2">{words}</span>;
  return (
    <>
      <b className={share.answer === 'block' ? 'text-stop' : ''}>{ANSWER_WORDS[share.answer]}</b>
      <span className="text-ink-2">{words}</span>
    </>
  );
}

function Behind({
  cell,
  side,
  people,
}: {
  readonly cell: CoverageCell;
  readonly side: Side;
  readonly people: number;
}) {
  const policies = usePolicies();
  const create = useCreatePolicy();
  const navigate = useNavigate();
  const mayWrite = useMay('policies.write');
  const fill = () =>
    create.mutate(newPolicy(newRule(crypto.randomUUID(), cell.pattern, cell.side), cell.channel), {
      onSuccess: ({ policy }) => void navigate(`/policies/${policy.id}`),
    });
  return (
    <div className="flex flex-col gap-2 text-[13px]">
      {cell.shares.map((share, index) => {
        const policy = policies.data?.find((view) => view.policy.id === share.policy)?.policy;
        const rule = policy?.rules.findIndex(({ id }) => id === share.rule) ?? -1;
        return (
          <p key={index}>
            <b>
              {share.people} of {people} people
            </b>
            :{' '}
            {share.answer === null
              ? 'it is allowed and creates no incident.'
              : `${ANSWER_MEANING[share.answer]}, from ${share.from} on${share.at ? `, if it is put into ${share.at}; elsewhere the answer is weaker` : ''}.`}
            {share.written !== null && share.written !== share.answer && (
              <> A ceiling reduces it. As written: {ANSWER_WORDS[share.written]}.</>
            )}
            {share.policy && (
              <>
                {' '}
                <Link className="part" to={`/policies/${share.policy}`}>
                  {policy?.name ??
                    (side === 'published' ? 'a policy that is no longer among the drafts' : 'a policy')}
                  {rule >= 0 && `, rule ${rule + 1}`}
                </Link>
              </>
            )}
          </p>
        );
      })}
      <Button
        className="self-start"
        refusal={mayWrite ? undefined : 'Your account may not edit policies'}
        onClick={fill}
      >
        Create a rule for this
      </Button>
    </div>
  );
}
