import {
  type ListedMachine,
  MAX_MACHINE_ADDRESSES,
  MAX_MACHINE_FIELD,
  type MachineRecord,
} from './machine-record.js';

export type MachineRefusal = 'no-name' | 'twice' | 'too-long' | 'bad-address';

export interface MachinePlan {
  readonly added: readonly MachineRecord[];
  readonly changed: readonly { readonly before: MachineRecord; readonly after: MachineRecord }[];
  /** Machines of this source that are no longer listed. A refused line still lists its machine. */
  readonly left: readonly MachineRecord[];
  readonly unchanged: number;
  readonly refused: readonly {
    readonly line: number;
    readonly code: MachineRefusal;
    readonly value: string;
  }[];
  /** Share (0 to 1) of this source's machines that would leave. */
  readonly leavingShare: number;
}

/** Compares what a source tells of machines with what the directory holds. Nothing is changed. */
export function planMachines(
  told: readonly ListedMachine[],
  { own, whole }: { readonly own: readonly MachineRecord[]; readonly whole: boolean },
): MachinePlan {
  const before = new Map(own.map((machine) => [machine.name.toLowerCase(), machine]));
  const seen = new Set<string>();
  const refused: { line: number; code: MachineRefusal; value: string }[] = [];
  const added: MachineRecord[] = [];
  const changed: { before: MachineRecord; after: MachineRecord }[] = [];
  let unchanged = 0;
  for (const line of told) {
    const name = line.name.trim();
    const small = name.toLowerCase();
    const code = faultOf(line, seen.has(small));
    if (name !== '') seen.add(small);
    if (code) {
      refused.push({
        line: line.line,
        code,
        value: (code === 'bad-address' ? (line.badAddress ?? '') : name).slice(0, 120),
      });
      continue;
    }
    const known = before.get(small);
    const after = machineAfter(name, line.fields, known);
    if (!known) added.push(after);
    else if (JSON.stringify(plain(known)) === JSON.stringify(plain(after))) unchanged += 1;
    else changed.push({ before: known, after });
  }
  const left = whole ? own.filter(({ name }) => !seen.has(name.toLowerCase())) : [];
  return {
    ...{ added, changed, left, unchanged, refused },
    leavingShare: own.length === 0 ? 0 : left.length / own.length,
  };
}

function faultOf({ name, fields, badAddress }: ListedMachine, isSeen: boolean): MachineRefusal | null {
  if (name.trim() === '') return 'no-name';
  if (isSeen) return 'twice';
  if (badAddress !== undefined) return 'bad-address';
  const texts = [name, fields.serial ?? '', ...(fields.listed ?? [])];
  const isLong = texts.some((text) => text.trim().length > MAX_MACHINE_FIELD);
  return isLong || (fields.addresses?.length ?? 0) > MAX_MACHINE_ADDRESSES ? 'too-long' : null;
}

function machineAfter(
  name: string,
  fields: ListedMachine['fields'],
  before: MachineRecord | undefined,
): MachineRecord {
  return {
    // A machine keeps the name that rules may know it by.
    name: before?.name ?? name,
    state: fields.state ?? before?.state ?? 'looked-after',
    serial: (fields.serial ?? before?.serial ?? '').trim(),
    addresses: [...(fields.addresses ?? before?.addresses ?? [])],
    owner: (fields.owner ?? before?.owner ?? '').trim().toLowerCase(),
    listed: [
      ...new Set((fields.listed ?? before?.listed ?? []).map((group) => group.trim()).filter(Boolean)),
    ].sort(),
  };
}

const plain = ({ listed, ...machine }: MachineRecord): object => ({ ...machine, listed: [...listed].sort() });
