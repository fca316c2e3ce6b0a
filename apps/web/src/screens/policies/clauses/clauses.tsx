import { DndContext, type DragEndEvent, PointerSensor, useSensor, useSensors } from '@dnd-kit/core';
import { SortableContext, useSortable, verticalListSortingStrategy } from '@dnd-kit/sortable';
import { CSS } from '@dnd-kit/utilities';
import {
  type Condition,
  type GroupCondition,
  isGroup,
  type LeafCondition,
  type Problem,
} from '@lantern/core/policy';
import type { ReactNode } from 'react';
import { useNames } from '../../../data/policies';
import { Button } from '../../../ui/button';
import { InlinePress } from '../../../ui/inline-press';
import { EditorPopover } from '../../../ui/popover';
import { conditionWords } from '../../../wording/sentence';
import {
  addClause,
  changeClause,
  type ClausePath,
  type ClauseStep,
  type ConditionPlace,
  placeClause,
  problemPath,
  problemsAt,
  stepClause,
  stepsFrom,
} from '../edit';
import { ClauseEditor } from './clause-editor';
import { NewClauses } from './new-clauses';

export interface ClauseContext {
  /** Where the condition stands in its policy, as problems name it. */
  readonly place: ConditionPlace;
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

/** A condition as indented clauses; each emphasised part opens its editor, and clauses are dragged by their handle. */
export function Clauses({ clause, path, context }: Props) {
  if (!isGroup(clause)) return <Clause clause={clause} path={path} context={context} />;
  return (
    <div className={path.length > 0 ? 'border-l-2 border-rule pl-3' : ''}>
      {clause.kind === 'none' && <span>none of these: </span>}
      <Sorted clause={clause} path={path} context={context} />
      {!context.readOnly && <GroupMenu clause={clause} path={path} context={context} />}
    </div>
  );
}

function Sorted({ clause, path, context }: Props & { readonly clause: GroupCondition }) {
  const sensors = useSensors(useSensor(PointerSensor, { activationConstraint: { distance: 4 } }));
  const ids = clause.of.map((_part, index) => [...path, index].join('.'));
  const drop = ({ active, over }: DragEndEvent) => {
    const [from, to] = [ids.indexOf(String(active.id)), ids.indexOf(String(over?.id))];
    if (from === -1 || to === -1 || from === to) return;
    context.onChange(placeClause(context.root, [...path, from], to));
  };
  return (
    <DndContext sensors={sensors} onDragEnd={drop}>
      <SortableContext items={ids} strategy={verticalListSortingStrategy}>
        {clause.of.map((part, index) => (
          <Draggable key={ids[index]} id={ids[index] ?? ''} fixed={context.readOnly || clause.of.length < 2}>
            {index > 0 && <span className="text-ink-2">{JOINTS[clause.kind]} </span>}
            <span className={isGroup(part) ? 'block' : ''}>
              <Clauses clause={part} path={[...path, index]} context={context} />
            </span>
          </Draggable>
        ))}
      </SortableContext>
    </DndContext>
  );
}

function Draggable({
  id,
  fixed,
  children,
}: {
  readonly id: string;
  readonly fixed: boolean;
  readonly children: ReactNode;
}) {
  const { setNodeRef, listeners, transform, transition, isDragging } = useSortable({ id, disabled: fixed });
  return (
    <div
      ref={setNodeRef}
      style={{ transform: CSS.Translate.toString(transform), transition }}
      className={`group relative ${isDragging ? 'opacity-60' : ''}`}
    >
      {!fixed && (
        <span
          {...listeners}
          aria-hidden
          title="Drag to move this condition"
          className="absolute top-0 -left-4 w-4 cursor-grab touch-none text-center text-ink-2 opacity-0 group-hover:opacity-100"
        >
          ⋮
        </span>
      )}
      {children}
    </div>
  );
}

const STEP_WORDS: Readonly<Record<ClauseStep, string>> = {
  up: 'Move up',
  down: 'Move down',
  in: 'Move into the group before it',
  out: 'Move out of its group',
};

function Clause({ clause, path, context }: Props & { readonly clause: LeafCondition }) {
  const names = useNames();
  const wrong = problemsAt(context.problems, problemPath(context.place, path)).length > 0;
  const words = conditionWords(clause, names);
  const change = (to: Condition | null) => context.onChange(changeClause(context.root, path, () => to));
  if (context.readOnly) return <b>{words}</b>;
  return (
    <EditorPopover
      wide
      label={`Change: ${words}`}
      trigger={
        <InlinePress className={`part ${wrong ? '!border-stop !text-stop' : ''}`}>{words}</InlinePress>
      }
    >
      <ClauseEditor clause={clause} onChange={change} />
      <div className="mt-2 flex flex-wrap">
        <Steps path={path} context={context} />
        <Button look="quiet" onClick={() => change(null)}>
          Remove condition
        </Button>
      </div>
    </EditorPopover>
  );
}

function Steps({ path, context }: { readonly path: ClausePath; readonly context: ClauseContext }) {
  return stepsFrom(context.root, path).map((step) => (
    <Button key={step} look="quiet" onClick={() => context.onChange(stepClause(context.root, path, step))}>
      {STEP_WORDS[step]}
    </Button>
  ));
}

const TURNS = { all: 'all hold', any: 'any holds', none: 'none holds' } as const;

function GroupMenu({ clause, path, context }: Props & { readonly clause: GroupCondition }) {
  const turn = (kind: GroupCondition['kind']) =>
    context.onChange(
      changeClause(context.root, path, (group) => (isGroup(group) ? { ...group, kind } : group)),
    );
  return (
    <EditorPopover
      wide
      label="Add condition"
      trigger={
        <button type="button" className="text-[12.5px] text-press">
          + condition
        </button>
      }
    >
      <NewClauses
        firstPattern={context.firstPattern}
        onAdd={(added) => context.onChange(addClause(context.root, path, added))}
        groups
      />
      <p className="mt-2 mb-1 text-[12.5px] text-ink-2">These conditions are combined:</p>
      {(['all', 'any', 'none'] as const).map((kind) => (
        <Button
          key={kind}
          look={clause.kind === kind ? 'plain' : 'quiet'}
          aria-pressed={clause.kind === kind}
          onClick={() => turn(kind)}
        >
          {TURNS[kind]}
        </Button>
      ))}
      {path.length > 0 && (
        <div className="mt-1 flex flex-wrap">
          <Steps path={path} context={context} />
          <Button look="quiet" onClick={() => context.onChange(changeClause(context.root, path, () => null))}>
            Remove group
          </Button>
        </div>
      )}
    </EditorPopover>
  );
}
