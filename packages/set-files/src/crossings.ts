import { CROSSINGS_FORMAT, SCHEMAS, shapeFault } from '@lantern/contracts';
import type { Crossings } from '@lantern/contracts/crossings';
import { stringify } from 'yaml';
import type { FileFault } from './files.js';
import { parseFile } from './parsed-file.js';
import { pruned } from './prune.js';

/** The file of a folder that holds services, workspaces, and what may cross. */
export const CROSSINGS_FILE = 'crossings.yaml';

const byId = <Thing extends { readonly id: string }>(things: readonly Thing[]): Thing[] =>
  [...things].sort((left, right) => (left.id < right.id ? -1 : 1));

/** Everything about automations as one file; the same gives the same bytes. */
export function writeCrossings({ services, workspaces, sets }: Crossings): string {
  const whole = {
    format: CROSSINGS_FORMAT,
    services: byId(services).map((each) => ({ id: each.id, ...(pruned(each, SCHEMAS.service) as object) })),
    workspaces: byId(workspaces).map((each) => ({
      id: each.id,
      ...(pruned(each, SCHEMAS.workspace) as object),
    })),
    sets: byId(sets).map((each) => ({ id: each.id, ...(pruned(each, SCHEMAS['crossing-set']) as object) })),
  };
  return stringify(whole, { lineWidth: 0, aliasDuplicateObjects: false });
}

export type CrossingsReading =
  | { readonly status: 'read'; readonly crossings: Crossings }
  | { readonly status: 'faulty'; readonly faults: readonly FileFault[] };

const PARTS = ['services', 'workspaces', 'sets'] as const;

/** Reads such a file: all of it, or every fault with its line. */
export function readCrossings(text: string, path = CROSSINGS_FILE): CrossingsReading {
  const parsed = parseFile({ path, text });
  if (Array.isArray(parsed)) return { status: 'faulty', faults: parsed };
  if (typeof parsed.value !== 'object' || parsed.value === null || Array.isArray(parsed.value))
    return {
      status: 'faulty',
      faults: [{ path, line: 1, message: `must hold fields, the first "format: ${CROSSINGS_FORMAT}"` }],
    };
  const fault = shapeFault('crossings', parsed.value);
  if (fault) {
    const field = fault.path.length > 0 ? `${fault.path.join('.')} ` : '';
    return {
      status: 'faulty',
      faults: [{ path, line: parsed.lineOf(fault.path), message: `${field}${fault.message}` }],
    };
  }
  const crossings = parsed.value as Crossings;
  const faults = PARTS.flatMap((part) => {
    const ids = crossings[part].map(({ id }) => id);
    return ids.flatMap((id, at): FileFault[] =>
      ids.indexOf(id) < at
        ? [
            {
              path,
              line: parsed.lineOf([part, at]),
              message: `${part} ${at + 1} has the id "${id}" of another one`,
            },
          ]
        : [],
    );
  });
  return faults.length > 0 ? { status: 'faulty', faults } : { status: 'read', crossings };
}
