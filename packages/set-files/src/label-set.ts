import { LABELS_FORMAT, SCHEMAS, shapeFault } from '@lantern/contracts';
import { READY_PATTERNS } from '@lantern/core/detection';
import { type Automatic, type Label, type Offer, type WholeLabelSet } from '@lantern/core/labels';
import { stringify } from 'yaml';
import type { FileFault } from './files.js';
import { parseFile, type ParsedFile } from './parsed-file.js';
import { pruned } from './prune.js';

/** Own patterns that automatic rules may name, with their ids. */
type NamedThings = readonly { readonly id: string; readonly name: string }[];

/** A set of labels as one file: labels by rank, references by name; the same set gives the same bytes. */
export function writeLabelSet(set: WholeLabelSet, patterns: NamedThings): string {
  const labelNames = new Map(set.labels.map(({ id, name }) => [String(id), name]));
  const patternNames = new Map(patterns.map(({ id, name }) => [id, name]));
  const label = (id: string): string => labelNames.get(id) ?? id;
  const labels = [...set.labels].sort((left, right) => left.rank - right.rank);
  const whole = {
    format: LABELS_FORMAT,
    labels: labels.map((each) => entry(each, SCHEMAS.label)),
    offers: set.offers.map((offer) => entry(turnOffer(offer, label), SCHEMAS.offer)),
    automatic: set.automatic.map((rule) =>
      entry(
        turnAutomatic(rule, label, (id) => patternNames.get(id) ?? id),
        SCHEMAS.automatic,
      ),
    ),
  };
  return stringify(whole, { lineWidth: 0, aliasDuplicateObjects: false });
}

function entry(thing: { readonly id: string }, schema: (typeof SCHEMAS)[keyof typeof SCHEMAS]): object {
  return { id: thing.id, ...(pruned(thing, schema) as object) };
}

type Turn = (value: string, path: readonly (string | number)[]) => string;

function turnOffer(offer: Offer, label: Turn): Offer {
  const { starts } = offer;
  return {
    ...offer,
    labels: offer.labels.map((id, index) => label(id, ['labels', index]) as typeof id),
    starts:
      starts.kind === 'bare'
        ? starts
        : { ...starts, label: label(starts.label, ['starts', 'label']) as typeof starts.label },
  };
}

function turnAutomatic(rule: Automatic, label: Turn, pattern: Turn): Automatic {
  return {
    ...rule,
    label: label(rule.label, ['label']) as typeof rule.label,
    content: rule.content.map((term, index) => ({
      ...term,
      pattern: pattern(term.pattern, ['content', index, 'pattern']) as typeof term.pattern,
    })),
  };
}

export type LabelSetReading =
  | { readonly status: 'read'; readonly set: WholeLabelSet }
  | { readonly status: 'faulty'; readonly faults: readonly FileFault[] };

export interface LabelSetKnown {
  readonly patterns: NamedThings;
  /** Whether pattern names that are not known are faults. */
  readonly knowsPatterns: boolean;
  /** Gives an id to what has none. */
  idFor(kind: 'labels' | 'offers' | 'automatic', name: string): string;
}

const PARTS = ['labels', 'offers', 'automatic'] as const;
const isUuid = (id: string): boolean => /^[0-9a-f]{8}(-[0-9a-f]{4}){3}-[0-9a-f]{12}$/i.test(id);

/** Reads a set of labels: all of it, or every fault with its line. */
export function readLabelSet(text: string, known: LabelSetKnown, path = 'labels.yaml'): LabelSetReading {
  const parsed = parseFile({ path, text });
  if (Array.isArray(parsed)) return { status: 'faulty', faults: parsed };
  if (typeof parsed.value !== 'object' || parsed.value === null || Array.isArray(parsed.value))
    return {
      status: 'faulty',
      faults: [{ path, line: 1, message: `must hold fields, the first "format: ${LABELS_FORMAT}"` }],
    };
  const fault = shapeFault('labels', parsed.value);
  if (fault) {
    const field = fault.path.length > 0 ? `${fault.path.join('.')} ` : '';
    return {
      status: 'faulty',
      faults: [{ path, line: parsed.lineOf(fault.path), message: `${field}${fault.message}` }],
    };
  }
  const faults: FileFault[] = [];
  const given = parsed.value as Record<(typeof PARTS)[number], ({ id?: string; name: string } & object)[]>;
  const [labels, offers, automatic] = PARTS.map((part) =>
    withIds(part, given[part], { parsed, known, faults }),
  ) as [Label[], Offer[], Automatic[]];
  const fail = (way: readonly (string | number)[], message: string): void => {
    faults.push({ path, line: parsed.lineOf(way), message });
  };
  const label = finder(labels, 'label', fail);
  const pattern = finder(
    [...READY_PATTERNS, ...known.patterns],
    'pattern',
    known.knowsPatterns ? fail : () => undefined,
  );
  const set: WholeLabelSet = {
    labels,
    offers: offers.map((offer, index) =>
      turnOffer(offer, (value, way) => label(value, ['offers', index, ...way])),
    ),
    automatic: automatic.map((rule, index) =>
      turnAutomatic(
        rule,
        (value, way) => label(value, ['automatic', index, ...way]),
        (value, way) => pattern(value, ['automatic', index, ...way]),
      ),
    ),
  };
  return faults.length > 0 ? { status: 'faulty', faults } : { status: 'read', set };
}

type Fail = (way: readonly (string | number)[], message: string) => void;

/** Finds what a reference means: an id first, then a name. */
function finder(things: readonly { readonly id: string; readonly name: string }[], kind: string, fail: Fail) {
  const byName = new Map(things.map(({ id, name }) => [name.trim().toLowerCase(), String(id)]));
  const ids = new Set(things.map(({ id }) => String(id)));
  return (value: string, way: readonly (string | number)[]): string => {
    if (ids.has(value)) return value;
    const found = byName.get(value.trim().toLowerCase());
    if (found === undefined) fail(way, `there is no ${kind} "${value}"`);
    return found ?? value;
  };
}

/** Ids and names stand once in their part. */
function withIds(
  part: (typeof PARTS)[number],
  things: readonly ({ id?: string; name: string } & object)[],
  { parsed, known, faults }: { parsed: ParsedFile; known: LabelSetKnown; faults: FileFault[] },
): object[] {
  const seen = new Map<string, number>();
  return things.map((thing, index) => {
    const id = thing.id ?? known.idFor(part, thing.name);
    if (!isUuid(id))
      faults.push({
        path: parsed.path,
        line: parsed.lineOf([part, index, 'id']),
        message: 'id must be a UUID; leave it out, and one is made',
      });
    for (const key of [`id ${id}`, `name ${thing.name.trim().toLowerCase()}`]) {
      const other = seen.get(key);
      if (other !== undefined)
        faults.push({
          path: parsed.path,
          line: parsed.lineOf([part, index, key.startsWith('id') ? 'id' : 'name']),
          message: `${part}: "${thing.name}" stands there twice, first in line ${parsed.lineOf([part, other])}`,
        });
      else seen.set(key, index);
    }
    return { ...thing, id };
  });
}
