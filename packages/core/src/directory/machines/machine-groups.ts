import type { MachineRecord } from './machine-record.js';
import { isInRange, isSerialIn, readAddressRange, readSerialRange } from './ranges.js';

/** A group of machines told by a condition: each kind of line that is given has to fit, by one of its lines. */
export interface MachineGroupRule {
  readonly name: string;
  /** Networks, ranges of addresses, addresses. */
  readonly networks: readonly string[];
  /** Serial numbers and ranges of them. */
  readonly serials: readonly string[];
  /** What names begin with. */
  readonly names: readonly string[];
}

/** Lines of one kind in one group. */
export const MOST_GROUP_LINES = 500;

/** Lines that cannot be read, by their kind and place. */
export function machineGroupFaults({ networks, serials }: Pick<MachineGroupRule, 'networks' | 'serials'>): {
  readonly kind: 'network' | 'serial';
  readonly line: string;
}[] {
  return [
    ...networks.filter((line) => !readAddressRange(line)).map((line) => ({ kind: 'network' as const, line })),
    ...serials
      .filter((line) => readSerialRange(line) === null)
      .map((line) => ({ kind: 'serial' as const, line })),
  ];
}

/** Prepared for many machines: lines are read once. A rule without a single line takes in nobody. */
export function compileMachineGroup(rule: MachineGroupRule): (machine: MachineRecord) => boolean {
  const networks = rule.networks.flatMap((line) => readAddressRange(line) ?? []);
  const serials = rule.serials.flatMap((line) => readSerialRange(line) ?? []);
  const names = rule.names.map((name) => name.trim().toLowerCase()).filter(Boolean);
  const isEmpty = rule.networks.length + rule.serials.length + names.length === 0;
  return ({ name, serial, addresses }) =>
    !isEmpty &&
    (rule.networks.length === 0 ||
      addresses.some((address) => networks.some((range) => isInRange(range, address)))) &&
    (rule.serials.length === 0 || serials.some((range) => isSerialIn(range, serial))) &&
    (names.length === 0 || names.some((begins) => name.toLowerCase().startsWith(begins)));
}

/** Groups of a machine: those that its source lists, and those whose condition it meets. */
export function machineGroupsOf(
  machine: MachineRecord,
  rules: readonly { readonly name: string; readonly test: (machine: MachineRecord) => boolean }[],
): readonly string[] {
  const met = rules.filter(({ test }) => test(machine)).map(({ name }) => name);
  const listed = machine.listed.filter(
    (group) => !rules.some(({ name }) => name.toLowerCase() === group.toLowerCase()),
  );
  return [...listed, ...met].sort();
}
