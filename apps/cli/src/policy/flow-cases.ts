import { dirname, join } from 'node:path';
import type { Crossings } from '@lantern/contracts/crossings';
import type { AnyAutomation, AutomationVerdict } from '@lantern/core/automations';
import { parseFile, readAutomation } from '@lantern/set-files';
import { bytesOf } from '../bytes-of.js';
import { CaseFault, isFlowCase } from './cases.js';
import { automationIn } from './flows.js';

/** A flow or assistant in a file of cases, and what is expected of it. */
export interface FlowCase {
  readonly name: string;
  readonly path: string;
  readonly line: number;
  readonly automation: AnyAutomation;
  readonly expect: FlowExpectation | null;
}

export interface FlowExpectation {
  readonly runs?: boolean;
  /** Codes of every reason, in any order. */
  readonly because?: readonly string[];
}

const FIELDS = ['case', 'flow', 'automation', 'expect'];

/** The flows among the cases of a file. Throws a {@link CaseFault} that names the line. */
export function flowCasesIn(path: string, services: Crossings['services']): FlowCase[] {
  if (path.endsWith('.eml')) return [];
  const parsed = parseFile({ path, text: Buffer.from(bytesOf(path)).toString('utf8') });
  if (Array.isArray(parsed) || !Array.isArray(parsed.value)) return [];
  return parsed.value.flatMap((value: unknown, index): FlowCase[] => {
    if (!isFlowCase(value)) return [];
    const lineOf = (field?: string): number => parsed.lineOf([index, ...(field ? [field] : [])]);
    const fault = (field: string | undefined, message: string): CaseFault =>
      new CaseFault(`${path}:${lineOf(field)} ${field ? `${field} ` : ''}${message}`);
    const unknown = Object.keys(value).find((field) => !FIELDS.includes(field));
    if (unknown) throw fault(unknown, `is no field of a case about a flow; these are: ${FIELDS.join(', ')}`);
    const name = value['case'] ?? '';
    if (typeof name !== 'string') throw fault('case', 'must be text');
    return [
      {
        ...{ name: name || `case ${index + 1}`, path, line: lineOf() },
        automation: automationOf(value, { path, services, fault }),
        expect: expectationOf(value['expect'], (message) => fault('expect', message)),
      },
    ];
  });
}

function automationOf(
  value: Readonly<Record<string, unknown>>,
  {
    path,
    services,
    fault,
  }: {
    readonly path: string;
    readonly services: Crossings['services'];
    readonly fault: (field: string, message: string) => CaseFault;
  },
): AnyAutomation {
  const { flow, automation } = value;
  if (flow === undefined) {
    const reading = readAutomation(automation, services, { path, lineOf: () => null });
    if (reading.status === 'faulty')
      throw fault('automation', reading.faults[0]?.message ?? 'cannot be read');
    return reading.automation;
  }
  if (typeof flow !== 'string' || automation !== undefined)
    throw fault('flow', 'must name a file beside this one, in the place of automation');
  return automationIn(join(dirname(path), flow), services);
}

function expectationOf(given: unknown, fault: (message: string) => CaseFault): FlowExpectation | null {
  if (given === undefined || given === null) return null;
  if (given === 'runs') return { runs: true };
  const { runs, because, ...rest } = given as Readonly<Record<string, unknown>>;
  const isList =
    because === undefined || (Array.isArray(because) && because.every((each) => typeof each === 'string'));
  if (typeof given !== 'object' || Object.keys(rest).length > 0 || !isList)
    throw fault('must be "runs", or hold runs (true or false) and because (a list of reasons)');
  if (runs !== undefined && typeof runs !== 'boolean') throw fault('runs must be true or false');
  return {
    ...(runs === undefined ? {} : { runs }),
    ...(because === undefined ? {} : { because: because as string[] }),
  };
}

/** What a verdict decided, in the terms of an expectation, and whether that was expected. */
export function flowOutcome(
  { name, path, line, expect }: FlowCase,
  { runs, breaches }: Pick<AutomationVerdict, 'runs' | 'breaches'>,
) {
  const because = [...new Set(breaches.map(({ reason }) => reason.code))].sort();
  const isSame = (wanted: readonly string[]): boolean =>
    [...new Set(wanted)].sort().join(' ') === because.join(' ');
  const kept =
    (expect?.runs === undefined || expect.runs === runs) &&
    (expect?.because === undefined || isSame(expect.because));
  return { name, path, line, decided: { runs, because }, expected: expect, kept };
}
