import type { BuilderRegister, JudgedWhileBuilding } from '@lantern/contracts/crossings';
import type { FlowStep } from '@lantern/core/automations';
import {
  Background,
  type Connection,
  Controls,
  type Edge,
  Handle,
  type Node,
  type NodeProps,
  Position,
  ReactFlow,
} from '@xyflow/react';
import '@xyflow/react/dist/style.css';
import { useMemo, useState } from 'react';

interface Shown extends Record<string, unknown> {
  readonly name: string;
  readonly what: string;
  readonly isBad: boolean;
}

interface Props {
  readonly steps: readonly FlowStep[];
  readonly register: BuilderRegister;
  readonly judged: JudgedWhileBuilding | undefined;
  readonly chosen: string | null;
  readonly onChoose: (id: string | null) => void;
  readonly onChange: (steps: readonly FlowStep[]) => void;
}

const ROW = 96;
const COLUMN = 240;

/** The steps of a flow as a graph: boxes are chosen, lines are drawn and taken out. */
export function FlowGraph({ steps, register, judged, chosen, onChoose, onChange }: Props) {
  const [moved, setMoved] = useState<Readonly<Record<string, { x: number; y: number }>>>({});
  const places = useMemo(() => placesOf(steps), [steps]);
  const bad = new Set((judged?.told ?? []).flatMap((each) => each.steps));
  const nodes: Node<Shown>[] = steps.map((step) => {
    const service = register.services.find(({ id }) => id === step.service);
    const operation = service?.operations.find(({ id }) => id === step.operation);
    return {
      id: step.id,
      type: 'step',
      position: moved[step.id] ?? places.get(step.id) ?? { x: 0, y: 0 },
      selected: step.id === chosen,
      data: {
        name: step.name || step.id,
        what: `${service?.name ?? step.service}: ${operation?.name || step.operation}`,
        isBad: bad.has(step.id),
      },
    };
  });
  const edges: Edge[] = steps.flatMap((step) =>
    step.after.map((before) => ({ id: `${before} ${step.id}`, source: before, target: step.id })),
  );
  const connect = ({ source, target }: Connection) =>
    onChange(
      steps.map((step) =>
        step.id === target && source !== target && !step.after.includes(source)
          ? { ...step, after: [...step.after, source] }
          : step,
      ),
    );
  return (
    <div className="h-full min-h-[320px]" aria-label="The flow as a graph">
      <ReactFlow
        nodes={nodes}
        edges={edges}
        nodeTypes={NODE_TYPES}
        fitView
        fitViewOptions={{ maxZoom: 1 }}
        deleteKeyCode={['Delete', 'Backspace']}
        onConnect={connect}
        onNodeClick={(_event, node) => onChoose(node.id)}
        onPaneClick={() => onChoose(null)}
        onNodesChange={(changes) => {
          for (const change of changes)
            if (change.type === 'position' && change.position) {
              const { id, position } = change;
              setMoved((now) => ({ ...now, [id]: position }));
            }
        }}
        onNodesDelete={(gone) => {
          const ids = new Set(gone.map(({ id }) => id));
          onChange(
            steps
              .filter(({ id }) => !ids.has(id))
              .map((step) => ({ ...step, after: step.after.filter((id) => !ids.has(id)) })),
          );
        }}
        onEdgesDelete={(gone) =>
          onChange(
            steps.map((step) => ({
              ...step,
              after: step.after.filter(
                (before) => !gone.some(({ source, target }) => source === before && target === step.id),
              ),
            })),
          )
        }
      >
        <Background />
        <Controls showInteractive={false} />
      </ReactFlow>
    </div>
  );
}

function StepBox({ data, selected }: NodeProps<Node<Shown>>) {
  return (
    <div
      className={`w-48 rounded border-2 bg-white px-2.5 py-1.5 text-[12.5px] ${data.isBad ? 'border-stop' : 'border-[var(--teal)]'} ${selected ? 'shadow-[0_0_0_3px_#d8e8e2]' : ''}`}
    >
      <Handle type="target" position={Position.Left} />
      <b className="block truncate">{data.name}</b>
      <span className="block truncate text-ink-2">{data.what}</span>
      {data.isBad && <span className="block font-semibold text-stop">not allowed</span>}
      <Handle type="source" position={Position.Right} />
    </div>
  );
}

const NODE_TYPES = { step: StepBox };

/** Each step to the right of those before it; a ring is cut where it closes. */
function placesOf(steps: readonly FlowStep[]): ReadonlyMap<string, { x: number; y: number }> {
  const byId = new Map(steps.map((step) => [step.id, step]));
  const depth = new Map<string, number>();
  const depthOf = (id: string, seen: ReadonlySet<string>): number => {
    const known = depth.get(id);
    if (known !== undefined) return known;
    if (seen.has(id)) return 0;
    const before = byId.get(id)?.after ?? [];
    const value = before.reduce((most, each) => Math.max(most, depthOf(each, new Set([...seen, id])) + 1), 0);
    depth.set(id, value);
    return value;
  };
  const rows = new Map<number, number>();
  return new Map(
    steps.map(({ id }) => {
      const column = depthOf(id, new Set());
      const row = rows.get(column) ?? 0;
      rows.set(column, row + 1);
      return [id, { x: column * COLUMN, y: row * ROW }];
    }),
  );
}
