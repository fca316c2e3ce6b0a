import { certaintyFor } from '../../detection/model/finding.js';
import type { Channel, InspectedMovement } from '../../movement/movement.js';
import {
  type Amount,
  clausesOf,
  isOverTime,
  type SumScope,
  type WindowCondition,
} from '../model/conditions.js';
import type { PolicySet } from '../model/rule.js';

/** Bytes of a kilobyte as file programs count them. */
export const KILOBYTE = 1_024;

/** A stretch of time that somebody must count before a movement is judged. */
export interface WindowAsked {
  readonly key: string;
  readonly of: Amount | 'values';
  readonly over: SumScope;
  readonly hours: number;
  /** Only for values. */
  readonly pattern: string | null;
  readonly certainty: number;
  /** What is usual is asked for beside it. */
  readonly usual: boolean;
}

/** What a condition asks to be counted, in the same words for equal questions. */
export function windowKey(condition: WindowCondition): string {
  const { over, hours } = condition;
  return condition.kind === 'values'
    ? `values ${condition.pattern} ${condition.certainty} ${over} ${hours}`
    : `${condition.of} ${over} ${hours}${condition.kind === 'usual' ? ' usual' : ''}`;
}

/** Every stretch that rules of a set ask about, each once; of policies for one channel where one is given. */
export function windowsAsked({ policies }: Pick<PolicySet, 'policies'>, channel?: Channel): WindowAsked[] {
  const asked = new Map<string, WindowAsked>();
  for (const { channels, shared, rules } of policies) {
    if (channel !== undefined && !channels.includes(channel)) continue;
    for (const condition of [shared, ...rules.flatMap(({ when, unless }) => [when, unless])])
      for (const clause of condition ? clausesOf(condition) : [])
        if (isOverTime(clause)) asked.set(windowKey(clause), windowOf(clause));
  }
  return [...asked.values()];
}

function windowOf(condition: WindowCondition): WindowAsked {
  const { over, hours } = condition;
  const key = windowKey(condition);
  return condition.kind === 'values'
    ? {
        key,
        over,
        hours,
        of: 'values',
        pattern: condition.pattern,
        certainty: condition.certainty,
        usual: false,
      }
    : { key, over, hours, of: condition.of, pattern: null, certainty: 0, usual: condition.kind === 'usual' };
}

/** Records that a movement takes: what the application says or, where it says nothing, rows of tables. */
export function rowsTaken({ use, parts }: Pick<InspectedMovement, 'use' | 'parts'>): number {
  return use?.rows ?? parts.reduce((sum, part) => sum + (part.status === 'read' ? (part.rows ?? 0) : 0), 0);
}

/** All files and texts of a movement together. */
export function bytesMoved({ parts, files }: Pick<InspectedMovement, 'parts' | 'files'>): number {
  const own = parts.reduce(
    (sum, part) => sum + (part.status === 'read' && part.role !== 'attachment' ? part.characters : 0),
    0,
  );
  return files.reduce((sum, file) => sum + file.bytes, own);
}

/** Whether a movement goes to anybody outside. */
export function goesOutside({ recipients }: Pick<InspectedMovement, 'recipients'>): boolean {
  return recipients.some(({ outside }) => outside);
}

/** What a movement itself adds to a stretch of time. */
export function amountOf(of: Amount, over: SumScope, movement: InspectedMovement): number {
  if (over === 'outside' && !goesOutside(movement)) return 0;
  if (of === 'movements') return 1;
  return of === 'rows' ? rowsTaken(movement) : Math.ceil(bytesMoved(movement) / KILOBYTE);
}

/** Different values of a pattern in a movement, as their findings write them. */
export function valuesIn(
  movement: Pick<InspectedMovement, 'parts'>,
  pattern: string,
  certainty: number,
): Set<string> {
  const values = new Set<string>();
  for (const part of movement.parts)
    if (part.status === 'read')
      for (const finding of part.findings)
        if (certaintyFor(finding, pattern) >= Math.max(1, certainty)) values.add(finding.canonical);
  return values;
}
