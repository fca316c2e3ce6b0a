import { MAX_POLICIES, shapeFault } from '@lantern/contracts';
import { faultOf, type OwnPattern, READY_PATTERNS } from '@lantern/core/detection';
import { type AnswerText, type Exchange, type Policy, type SpotGroup } from '@lantern/core/policy';
import {
  type FileFault,
  type Folder,
  FOLDERS,
  MAX_FILES,
  SET_FORMAT,
  type SetHead,
  type SetText,
} from './files.js';
import { parseFile, type ParsedFile } from './parsed-file.js';
import { type FilePattern, isElsewhere, toPattern } from './patterns.js';
import { turnReferences } from './references.js';
import type { WholeSet } from './write.js';

/** Things that exist where a set is read, so that what only a server holds can be referred to. */
export interface Known {
  readonly patterns: readonly { readonly id: string; readonly name: string }[];
  /** Labels that rules may refer to; left out where nobody knows them, and references stay as they are. */
  readonly labels?: readonly { readonly id: string; readonly name: string }[];
  /** Ids must be UUIDs, as tables hold them; what has none is given one. */
  readonly onlyUuids?: boolean;
  /** Gives an id to what has none: the one of the same name where there is one, else a new one. */
  idFor(kind: Folder, name: string): string;
}

export type SetReading =
  | {
      readonly status: 'read';
      readonly set: WholeSet;
      /** Patterns that stay on their server: named here, not held. */
      readonly elsewhere: readonly { readonly id: string; readonly name: string }[];
      /** File and line of a place in a policy. */
      placeOf(
        policy: string,
        way: readonly (string | number)[],
      ): { readonly path: string; readonly line: number } | null;
    }
  | { readonly status: 'faulty'; readonly faults: readonly FileFault[] };

interface Read<Thing> {
  readonly file: ParsedFile;
  readonly thing: Thing;
}

/** Reads a set from its files: all of it, or every fault with its file and line. Other files are passed over. */
export function readSet(files: readonly SetText[], known: Known): SetReading {
  const faults: FileFault[] = [];
  if (files.length > MAX_FILES)
    return {
      status: 'faulty',
      faults: [{ path: '', line: null, message: `A set has ${MAX_FILES} files at most` }],
    };
  const head = readHead(
    files.find(({ path }) => path === 'set.yaml'),
    faults,
  );
  const texts = readFolder<AnswerText>('texts', files, { known, faults });
  const exchanges = readFolder<Exchange>('exchanges', files, { known, faults });
  const spots = readFolder<SpotGroup>('spots', files, { known, faults });
  const patterns = readFolder<FilePattern & { id: string; name: string }>('patterns', files, {
    known,
    faults,
  });
  const policies = readFolder<Policy>('policies', files, { known, faults });
  faults.push(...refusedExpressions(patterns));
  if (policies.length > MAX_POLICIES)
    faults.push({ path: 'policies', line: null, message: `A set has ${MAX_POLICIES} policies at most` });
  // What refers to a thing that could not be read would be a fault of its own, and none that helps.
  if (faults.length > 0) return { status: 'faulty', faults: faults.sort(byPlace) };
  const own = patterns.map(({ thing }) => thing);
  const resolve = resolver(
    { texts, exchanges, spots, patterns: [...own, ...known.patterns], labels: known.labels },
    faults,
  );
  const resolved = policies.map(({ file, thing }) => ({ file, thing: resolve.policy(file, thing) }));
  const registered = exchanges.map(({ file, thing }) => resolve.exchange(file, thing));
  if (faults.length > 0) return { status: 'faulty', faults: faults.sort(byPlace) };
  const places = new Map(resolved.map(({ file, thing }) => [String(thing.id), file]));
  return {
    status: 'read',
    set: {
      policies: resolved.map(({ thing }) => thing),
      texts: texts.map(({ thing }) => thing),
      exchanges: registered,
      spots: spots.map(({ thing }) => thing),
      patterns: own.flatMap((pattern): OwnPattern[] => toPattern(pattern)),
      domains: head.domains,
    },
    elsewhere: own.filter(isElsewhere).map(({ id, name }) => ({ id, name })),
    placeOf: (policy, way) => {
      const file = places.get(policy);
      return file ? { path: file.path, line: file.lineOf(way) } : null;
    },
  };
}

/** Expressions that cannot be made safe. */
function refusedExpressions(patterns: readonly Read<FilePattern>[]): FileFault[] {
  return patterns.flatMap(({ file, thing }): FileFault[] => {
    const fault = thing.pattern === 'expression' ? faultOf(thing.expression, thing.caseMatters) : null;
    const message = `the expression is refused: ${fault?.problem ?? ''}`;
    return fault ? [{ path: file.path, line: file.lineOf(['expression']), message }] : [];
  });
}

const byPlace = (left: FileFault, right: FileFault): number =>
  left.path === right.path ? (left.line ?? 0) - (right.line ?? 0) : left.path < right.path ? -1 : 1;

function readHead(file: SetText | undefined, faults: FileFault[]): SetHead {
  const none: SetHead = { format: SET_FORMAT, domains: [] };
  if (!file) {
    faults.push({ path: 'set.yaml', line: null, message: `is missing; it says "format: ${SET_FORMAT}"` });
    return none;
  }
  const parsed = parseFile(file);
  if (Array.isArray(parsed)) {
    faults.push(...parsed);
    return none;
  }
  const value = (parsed.value ?? {}) as Partial<SetHead>;
  if (value.format !== SET_FORMAT)
    faults.push({
      path: file.path,
      line: parsed.lineOf(['format']),
      message: `format must be "${SET_FORMAT}"`,
    });
  const domains = Array.isArray(value.domains) ? value.domains.map(String) : [];
  return { format: SET_FORMAT, domains };
}

interface Reading {
  readonly known: Known;
  readonly faults: FileFault[];
}

/** All things of one folder in the order of their paths; names and ids must be there once. */
function readFolder<Thing extends { readonly id: string; readonly name: string }>(
  folder: Folder,
  files: readonly SetText[],
  { known, faults }: Reading,
): Read<Thing>[] {
  const mine = files
    .filter(({ path }) => path.startsWith(`${folder}/`) && /\.ya?ml$/.test(path))
    .sort((left, right) => (left.path < right.path ? -1 : 1));
  const seen = new Map<string, string>();
  return mine.flatMap((file): Read<Thing>[] => {
    const parsed = parseFile(file);
    if (Array.isArray(parsed)) {
      faults.push(...parsed);
      return [];
    }
    const thing = withId<Thing>(folder, parsed, known, faults);
    if (!thing) return [];
    for (const key of [`id ${thing.id}`, `name ${thing.name.trim()}`]) {
      const other = seen.get(key);
      if (other)
        faults.push({
          path: file.path,
          line: parsed.lineOf([key.split(' ')[0] ?? '']),
          message: `${key} stands in ${other} too`,
        });
      seen.set(key, file.path);
    }
    return [{ file: parsed, thing }];
  });
}

function withId<Thing>(folder: Folder, file: ParsedFile, known: Known, faults: FileFault[]): Thing | null {
  if (typeof file.value !== 'object' || file.value === null || Array.isArray(file.value)) {
    faults.push({ path: file.path, line: 1, message: 'must hold fields and their values' });
    return null;
  }
  const { id, ...fields } = file.value as { id?: unknown; name?: unknown };
  // Patterns keep their id inside; the others are the same with and without one.
  const judged =
    folder === 'patterns' ? { ...fields, ...(id === undefined ? {} : { id: String(id) }) } : fields;
  const fault = shapeFault(FOLDERS[folder], judged);
  if (fault) {
    const field = fault.path.length > 0 ? `${fault.path.join('.')} ` : '';
    faults.push({ path: file.path, line: file.lineOf(fault.path), message: `${field}${fault.message}` });
    return null;
  }
  if (known.onlyUuids && id !== undefined && !isUuid(String(id)) && !isReady(fields)) {
    const message = 'id must be a UUID; leave it out, and one is made';
    faults.push({ path: file.path, line: file.lineOf(['id']), message });
    return null;
  }
  const own = id === undefined ? known.idFor(folder, String(fields.name ?? '')) : String(id);
  return { ...judged, id: own } as Thing;
}

const isUuid = (id: string): boolean => /^[0-9a-f]{8}(-[0-9a-f]{4}){3}-[0-9a-f]{12}$/i.test(id);

/** Weights of a ready pattern carry its id. */
const isReady = (fields: object): boolean => 'pattern' in fields && fields.pattern === 'weights';

interface Referable {
  readonly texts: readonly Read<AnswerText>[];
  readonly exchanges: readonly Read<Exchange>[];
  readonly spots: readonly Read<SpotGroup>[];
  readonly patterns: readonly { readonly id: string; readonly name: string }[];
  readonly labels: Known['labels'];
}

/** Finds what references mean: an id first, then a name. */
function resolver({ texts, exchanges, spots, patterns, labels }: Referable, faults: FileFault[]) {
  const index = (things: readonly { readonly id: string; readonly name: string }[]): Map<string, string> =>
    new Map([
      ...things.map(({ id, name }) => [name, id] as const),
      ...things.map(({ id }) => [id, id] as const),
    ]);
  const ids = {
    text: index(texts.map(({ thing }) => thing)),
    exchange: index(exchanges.map(({ thing }) => thing)),
    spots: index(spots.map(({ thing }) => thing)),
    label: labels ? index(labels) : null,
    pattern: new Map([
      ...index(patterns),
      ...READY_PATTERNS.map(({ id }) => [String(id), String(id)] as const),
    ]),
  };
  const turn =
    (file: ParsedFile) => (kind: keyof typeof ids, value: string, way: readonly (string | number)[]) => {
      const known = ids[kind];
      if (!known) return value;
      const id = known.get(value);
      if (id === undefined)
        faults.push({
          path: file.path,
          line: file.lineOf(way),
          message: `there is no ${kind === 'spots' ? 'group of spots' : kind} "${value}"`,
        });
      return id ?? value;
    };
  return {
    policy: (file: ParsedFile, policy: Policy): Policy => turnReferences(policy, turn(file)),
    exchange: (file: ParsedFile, exchange: Exchange): Exchange => ({
      ...exchange,
      patterns: exchange.patterns.map((pattern, at) => turn(file)('pattern', pattern, ['patterns', at])),
    }),
  };
}

/** One policy from the editor's text, its references found in the set around it. */
export function readPolicy(
  id: string,
  text: string,
  around: WholeSet & { readonly elsewhere: readonly { readonly id: string; readonly name: string }[] },
):
  | { readonly status: 'read'; readonly policy: Policy }
  | { readonly status: 'faulty'; readonly faults: readonly FileFault[] } {
  const faults: FileFault[] = [];
  const parsed = parseFile({ path: 'policy.yaml', text });
  if (Array.isArray(parsed)) return { status: 'faulty', faults: parsed };
  const known: Known = { patterns: [], idFor: () => id };
  const policy = withId<Policy>('policies', parsed, known, faults);
  if (!policy) return { status: 'faulty', faults };
  const as = <Thing>(things: readonly Thing[]): Read<Thing>[] =>
    things.map((thing) => ({ file: parsed, thing }));
  const patterns = [...around.patterns, ...around.elsewhere];
  const { labels } = around;
  const resolve = resolver(
    { texts: as(around.texts), exchanges: as(around.exchanges), spots: as(around.spots), patterns, labels },
    faults,
  );
  const resolved = resolve.policy(parsed, { ...policy, id: id as Policy['id'] });
  return faults.length > 0 ? { status: 'faulty', faults } : { status: 'read', policy: resolved };
}
