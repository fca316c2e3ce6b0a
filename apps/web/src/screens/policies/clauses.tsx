import type { Condition, Problem } from '@lantern/core';
import { assertNever } from '@lantern/core';
import { usePatternNames } from '../../data/patterns';
import { Button } from '../../ui/button';
import { InlinePress } from '../../ui/inline-press';
import { EditorPopover } from '../../ui/popover';
import { conditionWords } from '../../wording/sentence';
import { DomainEditor, FindingsEditor, RecipientEditor } from './clause-editors';
import { addClause, changeClause, type ClausePath, problemPath, problemsAt } from './edit';

export interface ClauseContext {
  readonly rule: number;
  readonly side: 'when' | 'unless';
  readonly root: Condition;
  readonly problems: readonly Problem[];
  readonly readOnly: boolean;
  readonly firstPattern: string;
  /** Null takes the whole condition out. */
  readonly onChange: (root: Condition | null) => void;
}

interface Props {
  readonly clause: Condition;
  readonly path: ClausePath;
  readonly context: ClauseContext;
}

const JOINTS = { all: 'and', any: 'or', none: 'nor' } as const;

/** A condition as indented clauses; each emphasised part opens its editor. */
export function Clauses({ clause, path, context }: Props) {
  if (clause.kind !== 'all' && clause.kind !== 'any' && clause.kind !== 'none')
    return <Clause clause={clause} path={path} context={context} />;
  return (
    <div className={path.length > 0 ? 'border-l-2 border-rule pl-3' : ''}>
      {clause.kind === 'none' && <span>none of this is so: </span>}
      {clause.of.map((part, index) => (
        <div key={index}>
          {index > 0 && <span className="text-ink-2">{JOINTS[clause.kind]} </span>}
          <span className={part.kind === 'all' || part.kind === 'any' || part.kind === 'none' ? 'block' : ''}>
            <Clauses clause={part} path={[...path, index]} context={context} />
          </span>
        </div>
      ))}
      {!context.readOnly && <GroupMenu clause={clause} path={path} context={context} />}
    </div>
  );
}

function Clause({ clause, path, context }: Props) {
  const names = usePatternNames();
  const wrong = problemsAt(context.problems, problemPath(context.rule, context.side, path)).length > 0;
  const words = conditionWords(clause, names);
  const change = (to: Condition | null) => context.onChange(changeClause(context.root, path, () => to));
  if (context.readOnly) return <b>{words}</b>;
  return (
    <EditorPopover
      label={`Change: ${words}`}
      trigger={
        <InlinePress className={`part ${wrong ? '!border-stop !text-stop' : ''}`}>{words}</InlinePress>
      }
    >
      <ClauseEditor clause={clause} onChange={change} />
      <Button look="quiet" className="mt-2" onClick={() => change(null)}>
        Take this clause out
      </Button>
    </EditorPopover>
  );
}

function ClauseEditor({
  clause,
  onChange,
}: {
  readonly clause: Condition;
  readonly onChange: (clause: Condition) => void;
}) {
  switch (clause.kind) {
    case 'findings':
      return <FindingsEditor clause={clause} onChange={onChange} />;
    case 'recipient':
      return <RecipientEditor clause={clause} onChange={onChange} />;
    case 'domain':
      return <DomainEditor clause={clause} onChange={onChange} />;
    case 'unreadable':
      return (
        <p>
          Holds when any part of the mail cannot be read: a password, damage, an archive that unpacks without
          end.
        </p>
      );
    case 'all':
    case 'any':
    case 'none':
      return null;
    default:
      return assertNever(clause);
  }
}

function GroupMenu({ clause, path, context }: Props) {
  const add = (added: Condition) => context.onChange(addClause(context.root, path, added));
  const turn = (kind: 'all' | 'any' | 'none') =>
    context.onChange(
      changeClause(context.root, path, (group) =>
        group.kind === 'all' || group.kind === 'any' || group.kind === 'none' ? { ...group, kind } : group,
      ),
    );
  const isGroup = clause.kind === 'all' || clause.kind === 'any' || clause.kind === 'none';
  return (
    <EditorPopover
      label="Add a clause"
      trigger={
        <button type="button" className="text-[12.5px] text-press">
          + clause
        </button>
      }
    >
      <p className="mb-1 text-[12.5px] text-ink-2">Add beside these</p>
      <NewClauses firstPattern={context.firstPattern} onAdd={add} groups />
      {isGroup && (
        <>
          <p className="mt-2 mb-1 text-[12.5px] text-ink-2">These clauses hold together when</p>
          {(['all', 'any', 'none'] as const).map((kind) => (
            <Button
              key={kind}
              look={clause.kind === kind ? 'plain' : 'quiet'}
              aria-pressed={clause.kind === kind}
              onClick={() => turn(kind)}
            >
              {kind === 'all' ? 'all hold' : kind === 'any' ? 'any holds' : 'none holds'}
            </Button>
          ))}
          {path.length > 0 && (
            <Button
              look="quiet"
              className="mt-1"
              onClick={() => context.onChange(changeClause(context.root, path, () => null))}
            >
              Take the group out
            </Button>
          )}
        </>
      )}
    </EditorPopover>
  );
}

interface NewProps {
  readonly firstPattern: string;
  readonly onAdd: (clause: Condition) => void;
  readonly groups?: boolean;
}

/** The clauses one can begin with; each is changed in place afterwards. */
export function NewClauses({ firstPattern, onAdd, groups = false }: NewProps) {
  const findings: Condition = {
    kind: 'findings',
    pattern: firstPattern,
    atLeast: 1,
    distinct: true,
    certainty: 80,
  };
  const choices: readonly (readonly [string, Condition])[] = [
    ['it holds something', findings],
    ['recipients are inside or outside', { kind: 'recipient', quantity: 'any', side: 'outside' }],
    ['recipients are at a domain', { kind: 'domain', quantity: 'every', domains: ['partner.example'] }],
    ['a part cannot be read', { kind: 'unreadable' }],
    ...(groups ? ([['a group of clauses', { kind: 'any', of: [findings] }]] as const) : []),
  ];
  return (
    <div className="flex flex-col items-start">
      {choices.map(([words, clause]) => (
        <Button key={words} look="quiet" onClick={() => onAdd(clause)}>
          {words}
        </Button>
      ))}
    </div>
  );
}
