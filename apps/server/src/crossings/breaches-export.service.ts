import type { BreachRow, JudgedBy } from '@lantern/contracts/crossings';
import { type BreachNames, breachSentence } from '@lantern/core/automations';
import { Injectable } from '@nestjs/common';
import { FileWork } from '../inspection/file-work.service.js';
import { Trail } from '../platform/trail/trail.service.js';
import { Automations } from './automations.service.js';

/** Rows of one sheet at most: a workbook has room for 1,048,576 (ECMA-376, 18.3.1.73). */
const MOST_ROWS = 1_000_000;

const COLUMNS = [
  'automation',
  'kind',
  'owner',
  'workspace',
  'running',
  'what is wrong',
  'said by',
  'from',
  'to',
  'steps',
  'goes on',
];

/** What is in breach, as a file that opens in a spreadsheet without running anything. */
@Injectable()
export class BreachesExport {
  constructor(
    private readonly automations: Automations,
    private readonly trail: Trail,
    private readonly files: FileWork,
  ) {}

  async as(
    format: 'csv' | 'xlsx',
    { by, search }: { readonly by: JudgedBy; readonly search: string },
    actor: string,
  ): Promise<Buffer> {
    const { rows } = await this.automations.breaches(by, search, MOST_ROWS);
    const { names, workspaces, sets } = await this.namesFor(by);
    const cells = rows.map((row) => cellsOf(row, { names, workspaces, sets }));
    await this.trail.add({
      ...{ actor, action: 'GET /crossings/breaches/export', target: by },
      facts: { rows: String(rows.length), format },
    });
    return Buffer.from(await this.files.writeTable(format, 'Breaches', { fields: COLUMNS, rows: cells }));
  }

  async namesFor(by: JudgedBy): Promise<Names> {
    const { crossings, labels } = await this.automations.basis(by);
    const services = new Map(crossings.services.map((service) => [service.id, service]));
    const find = (things: readonly { readonly id: string; readonly name: string }[], id: string): string =>
      things.find((thing) => String(thing.id) === id)?.name ?? id;
    const names: BreachNames = {
      service: (id) => services.get(id)?.name ?? id,
      operation: (service, id) => find(services.get(service)?.operations ?? [], id) || id,
      circle: (set, id) => find(crossings.sets.find((each) => each.id === set)?.circles ?? [], id),
      label: (id) => find(labels, id),
    };
    return {
      names,
      workspaces: (id) => find(crossings.workspaces, id),
      sets: (id) => (id === null ? '' : find(crossings.sets, id)),
    };
  }
}

interface Names {
  readonly names: BreachNames;
  readonly workspaces: (id: string) => string;
  readonly sets: (id: string | null) => string;
}

function cellsOf(row: BreachRow, { names, workspaces, sets }: Names): string[] {
  const { breach, older } = row;
  return [
    ...[row.name, row.kind, row.owner, workspaces(row.workspace), row.isOn ? 'yes' : 'no'],
    ...[breachSentence(breach, names), sets(breach.set)],
    ...[breach.from ? names.service(breach.from) : '', breach.to ? names.service(breach.to) : ''],
    ...[breach.steps.join(', '), older ? 'yes' : 'no'],
  ];
}
