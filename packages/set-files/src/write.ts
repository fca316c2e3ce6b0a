import { type JsonSchema, SCHEMAS } from '@lantern/contracts';
import { type OwnPattern, READY_PATTERNS } from '@lantern/core/detection';
import { type Policy, type PolicySet } from '@lantern/core/policy';
import { stringify } from 'yaml';
import { SET_FORMAT, type SetText } from './files.js';
import { pruned } from './prune.js';
import { turnReferences } from './references.js';

/** Everything that a set holds. */
export interface WholeSet extends PolicySet {
  readonly patterns: readonly OwnPattern[];
  readonly domains: readonly string[];
  /** Labels that rules refer to; they stand in a file of their own. */
  readonly labels?: readonly { readonly id: string; readonly name: string }[];
}

/** A set as files, in the order of their paths: the same set gives the same bytes, fit for a version control system. */
export function writeSet(set: WholeSet): SetText[] {
  const names = namesIn(set);
  const head = { format: SET_FORMAT, domains: [...set.domains] };
  const policies = set.policies.map((policy, index) => {
    const turned = turnReferences(policy, (_kind, value) => names.get(value) ?? value);
    return file(
      `policies/${String(index + 1).padStart(3, '0')}-`,
      policy,
      withId(policy, turned, SCHEMAS.policy),
    );
  });
  const texts = set.texts.map((text) => file('texts/', text, withId(text, text, SCHEMAS.text)));
  const exchanges = set.exchanges.map((exchange) => {
    const turned = { ...exchange, patterns: exchange.patterns.map((id) => names.get(id) ?? id) };
    return file('exchanges/', exchange, withId(exchange, turned, SCHEMAS.exchange));
  });
  const spots = set.spots.map((group) => file('spots/', group, withId(group, group, SCHEMAS.spots)));
  const patterns = set.patterns.map((pattern) =>
    file('patterns/', pattern, pruned(patternFields(pattern), SCHEMAS.pattern)),
  );
  const all = [
    { path: 'set.yaml', text: yaml(head) },
    ...policies,
    ...texts,
    ...exchanges,
    ...spots,
    ...patterns,
  ];
  return distinctPaths(all).sort((left, right) => (left.path < right.path ? -1 : 1));
}

function withId({ id }: { readonly id: string }, value: unknown, schema: JsonSchema): object {
  return { id, ...(pruned(value, schema) as object) };
}

/** One policy as the editor shows it. */
export function writePolicy(policy: Omit<Policy, 'id'>, set: WholeSet): string {
  const names = namesIn(set);
  return yaml(
    pruned(
      turnReferences(policy, (_kind, value) => names.get(value) ?? value),
      SCHEMAS.policy,
    ),
  );
}

/** What own things are called in references; what is called like something ready keeps its id. */
function namesIn(set: WholeSet): Map<string, string> {
  const ready = new Set<string>(READY_PATTERNS.map(({ id }) => id));
  const own = set.patterns.filter(({ origin }) => origin !== 'adjusted');
  return new Map(
    [...own, ...set.texts, ...set.exchanges, ...set.spots, ...(set.labels ?? [])]
      .filter(({ name }) => !ready.has(name))
      .map(({ id, name }) => [String(id), name]),
  );
}

function patternFields(pattern: OwnPattern): object {
  switch (pattern.origin) {
    case 'own':
      return {
        pattern: 'words',
        ...pattern,
        threshold: pattern.threshold ?? null,
        inside: pattern.inside ?? false,
      };
    case 'expression':
      return { pattern: 'expression', ...pattern };
    case 'adjusted':
      return { pattern: 'weights', ...pattern };
    case 'records':
    case 'documents':
      return {
        pattern: 'elsewhere',
        from: pattern.origin,
        id: pattern.id,
        name: pattern.name,
        about: pattern.about,
      };
  }
}

function file(
  folder: string,
  { id, name }: { id: string; name: string },
  fields: unknown,
): SetText & { id: string } {
  return { id, path: `${folder}${slug(name) || 'unnamed'}.yaml`, text: yaml(fields) };
}

function yaml(value: unknown): string {
  return stringify(value, { lineWidth: 0, aliasDuplicateObjects: false });
}

/** A name as part of a path: small letters and digits of any script, dashes between. */
export function slug(name: string): string {
  return name
    .normalize('NFKD')
    .replace(/\p{M}+/gu, '')
    .toLowerCase()
    .replace(/[^\p{L}\p{N}]+/gu, '-')
    .replace(/^-|-$/g, '')
    .slice(0, 60);
}

/** Two names may give one path: the later gets the beginning of its id behind it. */
function distinctPaths(files: readonly (SetText & { readonly id?: string })[]): SetText[] {
  const taken = new Set<string>();
  return files.map(({ path, text, id }) => {
    const own = taken.has(path) ? path.replace(/\.yaml$/, `-${(id ?? '').slice(0, 8)}.yaml`) : path;
    taken.add(own);
    return { path: own, text };
  });
}
