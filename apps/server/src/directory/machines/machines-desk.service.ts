import { randomUUID } from 'node:crypto';
import { rm } from 'node:fs/promises';
import { FEW_LEAVING, USUAL_LEAVING_PERCENT } from '@lantern/contracts/directory';
import type {
  MachineComparison,
  MachineGroupRequest,
  MachineGroupTrial,
  MachineGroupView,
  MachineListPage,
} from '@lantern/contracts/machines';
import {
  compileMachineGroup,
  machineEffects,
  machineGroupFaults,
  machineGroupsOf,
  type MachinePlan,
  type MachineRecord,
  type MachineTerm,
  planMachines,
} from '@lantern/core/directory';
import { Injectable } from '@nestjs/common';
import { InjectEntityManager } from '@nestjs/typeorm';
import { EntityManager, In, Not } from 'typeorm';
import { insertOnly } from '../../platform/database/insert-only.js';
import { likeAnywhere } from '../../platform/database/like.js';
import { AppError } from '../../platform/errors/app-error.js';
import { LiveEvents } from '../../platform/live/live-events.js';
import { DirectoryReferences } from '../directory-references.js';
import { KeptComparisons } from '../changes/kept-comparisons.js';
import { DirectoryChanges } from '../changes/directory-changes.service.js';
import { MachineEntity, MachineGroupEntity } from './machine.entity.js';

const PAGE = 200;
/** Lines of each list that are shown. */
const SHOWN = 200;
const EXAMPLES = 8;
/** Rows of one statement. */
const AT_ONCE = 1_000;

interface Kept {
  readonly plan: MachinePlan;
  readonly view: MachineComparison;
  /** Of the machines as they were: two imports at once must not undo each other. */
  readonly before: string;
}

/** Machines of the directory: inventories are compared before they are applied, groups are defined by conditions. */
@Injectable()
export class MachinesDesk {
  private readonly comparisons = new KeptComparisons<Kept>();

  constructor(
    @InjectEntityManager() private readonly manager: EntityManager,
    private readonly changes: DirectoryChanges,
    private readonly references: DirectoryReferences,
    private readonly live: LiveEvents,
  ) {}

  async page(typed: string): Promise<MachineListPage> {
    const found = this.manager.createQueryBuilder(MachineEntity, 'm').orderBy('m.name', 'ASC').take(PAGE);
    if (typed.trim() !== '')
      found.where(
        'm.name LIKE :like OR m.owner LIKE :like OR m.serial LIKE :like OR m.addresses LIKE :like OR m.groups LIKE :like',
        { like: likeAnywhere(typed.trim()) },
      );
    const [machines, total] = await found.getManyAndCount();
    return { total, machines: machines.map(listed) };
  }

  /** Compares an uploaded inventory with the machines. Nothing is changed; it is kept for an hour. */
  async compare(path: string, whole: boolean): Promise<MachineComparison> {
    try {
      const { told, ignored } = await this.changes.readMachines(path);
      const own = (await this.all()).map(recordOf);
      const plan = planMachines(told, { own, whole });
      const percent = Math.round(plan.leavingShare * 100);
      const effects = await this.effects(plan);
      const viewOf = (id: string): MachineComparison => ({
        ...{ id, ignored, effects },
        counts: {
          ...{ added: plan.added.length, changed: plan.changed.length, left: plan.left.length },
          ...{ unchanged: plan.unchanged, refused: plan.refused.length },
        },
        added: plan.added.slice(0, SHOWN),
        changed: plan.changed.slice(0, SHOWN),
        left: plan.left.slice(0, SHOWN),
        refused: plan.refused.slice(0, SHOWN),
        leavingPercent: plan.left.length > FEW_LEAVING && percent > USUAL_LEAVING_PERCENT ? percent : null,
      });
      const before = JSON.stringify(own);
      return this.comparisons.keep((id) => ({ plan, before, view: viewOf(id) })).view;
    } finally {
      await rm(path, { force: true });
    }
  }

  /** Takes over what was looked at, or nothing of it. */
  async apply(id: string, leavingPercent: number): Promise<MachineListPage> {
    const { plan, view, before } = this.comparisons.get(id);
    if (view.leavingPercent !== null && view.leavingPercent > leavingPercent)
      throw new AppError(
        'too-many-leave',
        `${plan.left.length} machines, ${view.leavingPercent} percent, would be removed. Nothing was changed. Confirm that they are gone.`,
      );
    await this.manager.transaction(async (manager) => {
      const there = await manager.find(MachineEntity, {
        order: { name: 'ASC' },
        lock: { mode: 'pessimistic_write' },
      });
      if (JSON.stringify(there.map(recordOf)) !== before)
        throw new AppError('changed-meanwhile', 'The machines changed meanwhile. Compare again.');
      const rules = await rulesOf(manager);
      const row = (machine: MachineRecord) => rowOf(machine, rules);
      await insertIn(manager, plan.added.map(row));
      for (const { after } of plan.changed)
        await manager.update(MachineEntity, { name: after.name }, row(after));
      for (let at = 0; at < plan.left.length; at += AT_ONCE)
        await manager.delete(MachineEntity, {
          name: In(plan.left.slice(at, at + AT_ONCE).map(({ name }) => name)),
        });
    });
    this.comparisons.drop(id);
    this.live.publish({ kind: 'directory-changed' });
    return this.page('');
  }

  async groups(): Promise<MachineGroupView[]> {
    const machines = (await this.all()).map(recordOf);
    const groups = await this.manager.find(MachineGroupEntity, { order: { name: 'ASC' } });
    return groups.map((group) => ({
      ...group,
      machines: machines.filter(compileMachineGroup(group)).length,
    }));
  }

  /** Which machines a condition means now; nothing is saved. */
  async try(request: MachineGroupRequest, id: string | null): Promise<MachineGroupTrial> {
    const rule = wellTold(request);
    const all = (await this.all()).map(recordOf);
    const test = compileMachineGroup(rule);
    const found = all.filter(test);
    const before = await rulesOf(this.manager);
    const own = id === null ? null : await this.manager.findOneBy(MachineGroupEntity, { id });
    const after = [...before.filter(({ name }) => name !== own?.name), { name: rule.name, test }];
    const steps = all.map((machine) => ({
      before: factsOf(machine, before),
      after: factsOf(machine, after),
    }));
    return {
      ...{ machines: found.length, examples: found.slice(0, EXAMPLES).map(({ name }) => name) },
      effects: machineEffects(await this.references.machines(), steps),
    };
  }

  async save(id: string | null, request: MachineGroupRequest): Promise<MachineGroupView[]> {
    const rule = wellTold(request);
    await this.manager.transaction(async (manager) => {
      const own = id ?? randomUUID();
      if (await manager.existsBy(MachineGroupEntity, { name: rule.name, id: Not(own) }))
        throw new AppError('name-taken', `There is a group ${rule.name} already.`, {
          details: { name: rule.name },
        });
      if (id !== null && !(await manager.existsBy(MachineGroupEntity, { id }))) throw noGroup();
      await manager.save(MachineGroupEntity, { id: own, ...rule });
      await regroup(manager);
    });
    this.live.publish({ kind: 'directory-changed' });
    return this.groups();
  }

  async remove(id: string): Promise<MachineGroupView[]> {
    const group = await this.manager.findOneBy(MachineGroupEntity, { id });
    const isNamed = (term: MachineTerm): boolean =>
      term.kind === 'machines' && term.group.toLowerCase() === group?.name.toLowerCase();
    const used = (await this.references.machines()).find((each) =>
      [...each.with, ...each.without].some(isNamed),
    );
    if (used) throw new AppError('in-use', `The group is used by ${used.of}. Remove it there first.`);
    await this.manager.transaction(async (manager) => {
      const { affected } = await manager.delete(MachineGroupEntity, { id });
      if (!affected) throw noGroup();
      await regroup(manager);
    });
    this.live.publish({ kind: 'directory-changed' });
    return this.groups();
  }

  /** Policies that an inventory would apply to other machines than now. */
  private async effects({ added, changed, left }: MachinePlan): Promise<MachineComparison['effects']> {
    const rules = await rulesOf(this.manager);
    const facts = (machine: MachineRecord) => factsOf(machine, rules);
    return machineEffects(await this.references.machines(), [
      ...added.map((machine) => ({ before: null, after: facts(machine) })),
      ...left.map((machine) => ({ before: facts(machine), after: null })),
      ...changed.map((step) => ({ before: facts(step.before), after: facts(step.after) })),
    ]);
  }

  private all(): Promise<MachineEntity[]> {
    return this.manager.find(MachineEntity, { order: { name: 'ASC' } });
  }
}

const noGroup = (): AppError => new AppError('not-found', 'There is no such group.');

const factsOf = (machine: MachineRecord, rules: Rules) => ({
  name: machine.name,
  groups: machineGroupsOf(machine, rules),
});

type Rules = Parameters<typeof machineGroupsOf>[1];

async function rulesOf(manager: EntityManager): Promise<Rules> {
  const groups = await manager.find(MachineGroupEntity);
  return groups.map((group) => ({ name: group.name, test: compileMachineGroup(group) }));
}

/** Puts every machine into the groups whose condition it meets now. */
async function regroup(manager: EntityManager): Promise<void> {
  const rules = await rulesOf(manager);
  for (const machine of await manager.find(MachineEntity, { lock: { mode: 'pessimistic_write' } })) {
    const groups = [...machineGroupsOf(recordOf(machine), rules)];
    if (JSON.stringify(groups) !== JSON.stringify([...machine.groups].sort()))
      await manager.update(MachineEntity, { name: machine.name }, { groups });
  }
}

async function insertIn(manager: EntityManager, rows: readonly MachineEntity[]): Promise<void> {
  for (let at = 0; at < rows.length; at += AT_ONCE)
    await insertOnly(manager, MachineEntity, rows.slice(at, at + AT_ONCE));
}

function rowOf(machine: MachineRecord, rules: Rules): MachineEntity {
  return {
    ...machine,
    addresses: [...machine.addresses],
    listed: [...machine.listed],
    groups: [...machineGroupsOf(machine, rules)],
  };
}

const recordOf = ({ name, state, serial, addresses, owner, listed }: MachineEntity): MachineRecord => ({
  ...{ name, state, serial, addresses, owner, listed },
});

const listed = (machine: MachineEntity): MachineListPage['machines'][number] => ({
  ...recordOf(machine),
  groups: machine.groups,
});

/** A condition without blanks; throws for lines that cannot be read, and for one without any. */
function wellTold({ name, about, ...lines }: MachineGroupRequest): Omit<MachineGroupEntity, 'id'> {
  const trimmed = (given: readonly string[]): string[] => given.map((line) => line.trim()).filter(Boolean);
  const rule = {
    ...{ name: name.trim(), about: about.trim(), networks: trimmed(lines.networks) },
    ...{ serials: trimmed(lines.serials), names: trimmed(lines.names) },
  };
  const [fault] = machineGroupFaults(rule);
  if (fault)
    throw new AppError(
      'invalid-request',
      fault.kind === 'network'
        ? `“${fault.line}” is not a network, a range or an address. Write 10.1.0.0/16, 10.1.0.5 - 10.1.0.40 or 10.1.0.5.`
        : `“${fault.line}” is not a range of serial numbers. Write A100 - A199, with the same letters in both.`,
    );
  if (rule.networks.length + rule.serials.length + rule.names.length === 0)
    throw new AppError('invalid-request', 'Enter a network, a serial number or the beginning of a name.');
  return rule;
}
