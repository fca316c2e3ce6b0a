import { shapeFault } from '@lantern/contracts';
import {
  type AnyAutomation,
  ARAZZO_FAULTS,
  type FlowService,
  isArazzo,
  readArazzo,
} from '@lantern/core/automations';
import type { FileFault, SetText } from './files.js';
import { parseFile } from './parsed-file.js';

export type AutomationReading =
  | { readonly status: 'read'; readonly automation: AnyAutomation }
  | { readonly status: 'faulty'; readonly faults: readonly FileFault[] };

/** A flow or assistant out of JSON or YAML, in our form or as a workflow of an Arazzo document. */
export function readAutomationFile(file: SetText, services: readonly FlowService[]): AutomationReading {
  const parsed = parseFile(file);
  return Array.isArray(parsed)
    ? { status: 'faulty', faults: parsed }
    : readAutomation(parsed.value, services, { path: file.path, lineOf: (way) => parsed.lineOf(way) });
}

/** The same out of a document that is parsed already. */
export function readAutomation(
  document: unknown,
  services: readonly FlowService[],
  {
    path,
    lineOf,
  }: { readonly path: string; readonly lineOf: (way: readonly (string | number)[]) => number | null },
): AutomationReading {
  const faulty = (message: string, line: number | null): AutomationReading => ({
    status: 'faulty',
    faults: [{ path, line, message }],
  });
  const arazzo = isArazzo(document) ? readArazzo(document, services) : null;
  if (arazzo?.status === 'refused') return faulty(`${arazzo.at} ${ARAZZO_FAULTS[arazzo.why]}`, null);
  const given = arazzo ? arazzo.flow : document;
  const fault = shapeFault('automation', given);
  if (fault)
    return faulty(`${fault.path.join('.')} ${fault.message}`.trim(), arazzo ? null : lineOf(fault.path));
  const automation = given as AnyAutomation;
  // What says no time of its own is as new as can be: sets that bind newer ones hold for it.
  return { status: 'read', automation: { ...automation, madeAt: automation.madeAt || Date.now() } };
}
