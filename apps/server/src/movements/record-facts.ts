import { createHmac } from 'node:crypto';
import { mask } from '@lantern/core/detection';
import { domainOf } from '@lantern/core/directory';
import {
  bandsOf,
  type FoundText,
  type IncidentSummary,
  MOST_CASE_VALUES,
  signatureOf,
  templateOf,
} from '@lantern/core/incidents';
import { type InspectedMovement, spotName } from '@lantern/core/movement';
import type { IncidentEntity } from '../incidents/incident.entity.js';
import type { Named } from '../incidents/known-names.service.js';
import type { TraitEntity, TraitField } from '../incidents/queue/trait.entity.js';
import type { InspectedItemPart } from '@lantern/files/inspect';
import type { JudgedMovement } from './recorder.service.js';

type SharedColumn =
  'activity' | 'manager' | 'machine' | 'managed' | 'network' | 'link' | 'connection' | 'test' | 'origin';
/** Columns that a movement and its incident share. */
export type SharedColumns = Pick<IncidentEntity, SharedColumn>;
export type Trait = Pick<TraitEntity, 'field' | 'value' | 'silent'>;

/** Longest value that filters look up. */
const VALUE_LENGTH = 254;
/** Values of one field that one movement is found by: a mail to thousands is found by the first of them. */
const MOST_VALUES = 500;
/** Digits in a name that may be a card, an account or a number of a person. */
const LONG_NUMBER = /\d(?:[ .-]?\d){7,}/gu;

/** Columns that filters ask for. */
export function sharedColumns({ movement, activity, manager, reportedBy }: JudgedMovement): SharedColumns {
  const { machine, network, link, connection } = movement;
  return {
    activity: activity ?? null,
    manager: manager ?? null,
    machine: machine?.name.slice(0, 120) ?? null,
    managed: machine && machine.state !== 'not-known' ? machine.state === 'looked-after' : null,
    network: network ?? null,
    link: link ?? null,
    connection: connection ?? null,
    test: false,
    origin: reportedBy?.name ?? null,
  };
}

/** What a movement is called: its subject, else its first file, else where it goes or comes from. Values are masked. */
export function titleOf({
  movement,
  inspected,
}: {
  readonly movement: InspectedMovement;
  readonly inspected: readonly InspectedItemPart[];
}): string | null {
  const subject = inspected.find(({ part }) => part.role === 'subject');
  const title =
    (subject && maskedText(subject)) ??
    movement.files[0]?.name ??
    (movement.into?.[0] && spotName(movement.into[0])) ??
    (movement.from?.[0] && spotName(movement.from[0]));
  return title ? maskedName(title) : null;
}

function maskedText({ part, text }: InspectedItemPart): string | undefined {
  if (part.status !== 'read' || !text?.trim()) return undefined;
  let out = '';
  let at = 0;
  for (const { start, end } of [...part.findings].sort((one, other) => one.start - other.start)) {
    if (start < at) continue;
    out += text.slice(at, start) + mask(text.slice(start, end));
    at = end;
  }
  return (out + text.slice(at)).replaceAll(/\s+/gu, ' ').trim();
}

/** A name without long numbers: names of files are not inspected for all that they could hold. */
export const maskedName = (name: string): string => name.replaceAll(LONG_NUMBER, (number) => mask(number));

/** Values of fields of which a movement may have several. */
export function traitsOf(
  judged: JudgedMovement,
  summary: IncidentSummary | null,
  words: readonly string[],
): Trait[] {
  const { movement } = judged;
  const traits = new Map<string, Trait>();
  const counts = new Map<TraitField, number>();
  const add = (field: TraitField, value: string | null | undefined, silent = false) => {
    const cut = value?.slice(0, VALUE_LENGTH).trim();
    if (!cut) return;
    const key = `${field} ${cut.toLowerCase()}`;
    const known = traits.get(key);
    if (known) known.silent &&= silent;
    else if ((counts.get(field) ?? 0) < MOST_VALUES) {
      counts.set(field, (counts.get(field) ?? 0) + 1);
      traits.set(key, { field, value: cut, silent });
    }
  };
  for (const word of words) add('title', word);
  for (const group of movement.sender.groups ?? []) add('group', group);
  for (const { address } of movement.recipients) {
    add('destination', address);
    add('domain', domainOf(address) || null);
  }
  for (const spot of movement.into ?? []) {
    add('destination', spotName(spot));
    if (spot.kind === 'host') add('domain', spot.host);
  }
  for (const spot of movement.from ?? []) add('source', spotName(spot));
  if (movement.window) add('window', maskedName(movement.window));
  for (const { name, kind } of movement.files) {
    add('file', maskedName(name));
    add('fileKind', kind);
  }
  for (const { id } of movement.labels ?? []) add('label', id);
  for (const { pattern } of summary?.counts ?? []) add('pattern', pattern);
  for (const { policy, rule, cut, silent } of summary?.matches ?? []) {
    add('policy', policy, silent);
    add('rule', rule, silent);
    add('reducedBy', cut, silent);
  }
  for (const { label } of summary?.forbidden ?? []) add('label', label.id);
  return [...traits.values()];
}

/** Names of what an incident's filters may name. */
export function namesOf({ set, movement, ownPatterns }: JudgedMovement, summary: IncidentSummary): Named[] {
  const found = new Set<string>(summary.counts.map(({ pattern }) => pattern));
  const matched = new Set(summary.matches.map(({ rule }) => rule));
  return [
    ...ownPatterns.flatMap(({ id, name }) => (found.has(id) ? [{ kind: 'pattern' as const, id, name }] : [])),
    ...set.policies.flatMap(({ id, name, rules }) =>
      rules.some((rule) => matched.has(rule.id))
        ? [
            { kind: 'policy' as const, id, name },
            ...rules.flatMap((rule) =>
              matched.has(rule.id)
                ? [{ kind: 'rule' as const, id: rule.id, name: rule.name || `Rule of ${name}` }]
                : [],
            ),
          ]
        : [],
    ),
    ...(movement.labels ?? []).map(({ id, name }) => ({ kind: 'label' as const, id, name })),
    ...summary.forbidden.map(({ label }) => ({ kind: 'label' as const, id: label.id, name: label.name })),
  ];
}

/** By what an incident is found again as the same case, or as the same thing in other hands. */
export interface Likeness {
  readonly signature: Uint32Array | null;
  /** Groups of words that the signature is of. */
  readonly textSize: number;
  readonly alikeKey: string;
  readonly bands: readonly string[];
  /** Keyed hashes of its values, for the person alone: hexadecimal, 16 digits. */
  readonly values: readonly string[];
}

export function likenessOf(
  key: Buffer,
  { movement, inspected, ownPatterns }: JudgedMovement,
  summary: IncidentSummary,
): Likeness {
  const texts = inspected.flatMap(({ part, text }): FoundText[] =>
    part.status === 'read' && text ? [{ text, findings: part.findings }] : [],
  );
  const names = movement.files.map(({ name }) => name.replaceAll(/\d+/gu, '#'));
  const members = templateOf(texts);
  const textSize = members.size;
  for (const name of names) members.add(`file ${name}`);
  const signature = signatureOf(members);
  const alikeKey = digest(
    key,
    JSON.stringify([
      summary.matches.map(({ rule }) => rule).sort(),
      summary.forbidden.map(({ label, effect }) => `${label.id} ${effect}`).sort(),
      summary.counts.map(({ pattern }) => pattern).sort(),
      movement.channel,
      [...(movement.from ?? []), ...(movement.into ?? [])]
        .filter(({ kind }) => kind === 'application' || kind === 'device')
        .map(spotName)
        .sort(),
    ]),
  );
  // A word of a list is a subject, and no value that would tell one content from another.
  const subjects = new Set<string>(
    ownPatterns.flatMap((own) => ('kind' in own && own.kind === 'own-words' ? [own.id] : [])),
  );
  const asked = new Set<string>(
    summary.counts.map(({ pattern }) => pattern).filter((id) => !subjects.has(id)),
  );
  const values = new Set<string>();
  for (const { part } of inspected) {
    if (part.status !== 'read') continue;
    for (const { pattern, canonical } of part.findings)
      if (asked.has(pattern) && values.size < MOST_CASE_VALUES)
        values.add(digest(key, `${movement.sender.address}\n${pattern}\n${canonical}`));
  }
  return {
    signature,
    textSize,
    alikeKey,
    bands: signature ? bandsOf(signature, alikeKey) : [],
    values: [...values],
  };
}

const digest = (key: Buffer, text: string): string =>
  createHmac('sha256', key).update(text).digest('hex').slice(0, 16);
