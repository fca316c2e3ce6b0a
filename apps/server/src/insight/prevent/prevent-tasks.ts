import { compileScanner, type OwnPattern, type Scanner } from '@lantern/core/detection';
import { domainOf } from '@lantern/core/directory';
import {
  type CaseFacts,
  type ChangeablePattern,
  type DecidedRules,
  type FoundFacts,
  isPatternChange,
  isSame,
  type PatternChange,
  type PreventingChange,
  withPatternChange,
  withRuleChange,
} from '@lantern/core/insight';
import type { WholeLabelSet } from '@lantern/core/labels';
import {
  compileItemJudge,
  type ItemJudge,
  type KeptMovement,
  type PolicySet,
  unkeepMovement,
} from '@lantern/core/policy';
import type { ExchangeId } from '@lantern/core/policy';
import type { TaskModule } from '@lantern/processes';
import { SEALED_OF_MOVEMENT } from '../../platform/keys/sealed-of-movement.js';
import type { JournalEntry } from '../../journal/journal-entry.js';
import { unsealHere } from '../../platform/sealing.js';
import type { KeptRow } from '../kept-movements.js';

/** The drafts that are tried. */
export interface PreventData {
  readonly set: PolicySet;
  readonly labels: WholeLabelSet;
  readonly own: readonly OwnPattern[];
  /** Patterns that the rule asks for. */
  readonly asked: readonly string[];
}

/** What a kept movement looked like, and what the drafts decide about it. */
export interface ReadRow {
  readonly facts: Omit<CaseFacts, 'outcome'>;
  readonly decided: DecidedRules;
}

export interface JudgeTask {
  readonly rows: readonly KeptRow[];
  readonly changes: readonly PreventingChange[];
}

export interface TextsTask {
  readonly rows: readonly KeptRow[];
  readonly pattern: string;
}

/** A text that a specimen is made of, with the values that stand in it. */
export interface TextOfRow {
  readonly text: string;
  readonly values: readonly string[];
}

/** Values of one pattern that facts name. */
const MOST_VALUES = 50;
/** Characters on each side of a value in which words are looked for: the window of a supporting word. */
const BESIDE = 60;
const MOST_WORDS = 40;
const WORD = /\p{L}{3,}/gu;
/** The register's entry that a change would make, while it is tried. */
const TRIED = 'tried' as ExchangeId;

interface Known {
  readonly data: PreventData;
  readonly judge: ItemJudge;
  /** Looks for one own pattern alone. */
  readonly scanners: Map<string, Scanner>;
  readonly judges: Map<string, ItemJudge>;
}
let known: Known | undefined;

export function prepare(data: PreventData): void {
  known = {
    data,
    judge: compileItemJudge({ policies: data.set, labels: data.labels }),
    scanners: new Map(),
    judges: new Map(),
  };
}

function given(): Known {
  if (!known) throw new Error('This process was given no drafts');
  return known;
}

function opened(key: Uint8Array, place: string, bytes: Uint8Array): unknown {
  return JSON.parse(unsealHere(Buffer.from(key), place, Buffer.from(bytes)).toString('utf8'));
}

const movementOf = ({ id, key, sealed }: KeptRow): KeptMovement =>
  opened(key, SEALED_OF_MOVEMENT.journal.place(id), sealed) as KeptMovement;
const textsOf = ({ id, key, sealedTexts }: KeptRow): JournalEntry['texts'] =>
  sealedTexts &&
  (opened(key, SEALED_OF_MOVEMENT.journalTexts.place(id), sealedTexts) as JournalEntry['texts']);

function decide(judge: ItemJudge, kept: KeptMovement): DecidedRules {
  const { answer, matches } = judge.judge(unkeepMovement(kept, judge.asked));
  return { answer, rules: matches.map(({ rule }) => rule) };
}

function read(row: KeptRow): ReadRow {
  const { data, judge } = given();
  const texts = textsOf(row);
  const kept = asDrafted(movementOf(row), texts);
  const found = Object.fromEntries(
    data.asked.flatMap((pattern) => {
      const facts = foundOf(kept, pattern, texts);
      return facts ? [[pattern, facts] as const] : [];
    }),
  );
  return {
    facts: {
      id: row.id,
      domains: [...new Set(kept.recipients.map(({ address }) => domainOf(address)))],
      department: kept.sender.department ?? null,
      groups: kept.sender.groups ?? [],
      from: kept.from ?? [],
      into: kept.into ?? [],
      found,
    },
    decided: decide(judge, kept),
  };
}

function foundOf(kept: KeptMovement, pattern: string, texts: JournalEntry['texts']): FoundFacts | null {
  const values = new Map<string, number>();
  for (const part of kept.parts) {
    const [certainties, written] = (part.status === 'read' && part.found[pattern]) || [[], []];
    written.forEach((value, at) => values.set(value, Math.max(values.get(value) ?? 0, certainties[at] ?? 0)));
  }
  if (values.size === 0) return null;
  const ordered = [...values].sort(([, one], [, other]) => other - one);
  return {
    certainty: ordered[0]?.[1] ?? 0,
    distinct: values.size,
    values: ordered.slice(0, MOST_VALUES).map(([value]) => value),
    beside: wordsBeside(pattern, texts),
  };
}

/** Words around what an expression finds: others have no counter words of their own. */
function wordsBeside(pattern: string, texts: JournalEntry['texts']): string[] {
  const own = given().data.own.find(({ id }) => id === pattern);
  if (own?.origin !== 'expression' || !texts) return [];
  const words = new Set<string>();
  for (const text of texts) {
    for (const { start, end } of text ? scannerOf(own, '').scan(text).findings : []) {
      const around = `${text?.slice(Math.max(0, start - BESIDE), start) ?? ''} ${text?.slice(end, end + BESIDE) ?? ''}`;
      for (const [word] of around.matchAll(WORD)) if (words.size < MOST_WORDS) words.add(word.toLowerCase());
    }
  }
  return [...words];
}

function scannerOf(pattern: ChangeablePattern, change: string): Scanner {
  const { scanners } = given();
  const key = `${pattern.id} ${change}`;
  const made = scanners.get(key) ?? compileScanner([pattern]);
  scanners.set(key, made);
  return made;
}

function judged({ rows, changes }: JudgeTask): (DecidedRules | null)[][] {
  return rows.map((row) => {
    const texts = textsOf(row);
    const kept = asDrafted(movementOf(row), texts);
    return changes.map((change) => {
      if (!isPatternChange(change)) return decide(judgeOf(change), kept);
      const narrowed = narrowedBy(change, kept, texts);
      return narrowed && decide(given().judge, narrowed);
    });
  });
}

function judgeOf(change: Exclude<PreventingChange, PatternChange>): ItemJudge {
  const { data, judges } = given();
  const key = JSON.stringify(change);
  const made =
    judges.get(key) ??
    compileItemJudge({ policies: withRuleChange(data.set, change, TRIED), labels: data.labels });
  judges.set(key, made);
  return made;
}

/** A kept movement under a changed pattern; null where its texts are needed and were not kept. */
function narrowedBy(
  change: PatternChange,
  kept: KeptMovement,
  texts: JournalEntry['texts'],
): KeptMovement | null {
  const pattern = given().data.own.find(({ id }) => id === change.pattern);
  const changed = pattern && withPatternChange(pattern, change);
  if (!changed) return kept;
  if (texts) return narrowedTo(scannerOf(changed, JSON.stringify(change)), change.pattern, { kept, texts });
  return change.kind === 'add-counter-word' ? null : withoutValue(change, kept);
}

/** A kept movement as the drafts' own patterns see it, which may have been changed since. */
function asDrafted(kept: KeptMovement, texts: JournalEntry['texts']): KeptMovement {
  const { asked, own } = given().data;
  if (!texts) return kept;
  return own.reduce(
    (movement, pattern) =>
      asked.includes(pattern.id) && (pattern.origin === 'own' || pattern.origin === 'expression')
        ? narrowedTo(scannerOf(pattern, ''), pattern.id, { kept: movement, texts })
        : movement,
    kept,
  );
}

/**
 * A kept movement with those findings of a pattern alone that a scanner still makes, each with the lesser of both
 * certainties. Findings that it makes beside them are left out: changes here only take away.
 */
function narrowedTo(
  scanner: Scanner,
  pattern: string,
  { kept, texts }: { readonly kept: KeptMovement; readonly texts: NonNullable<JournalEntry['texts']> },
): KeptMovement {
  const parts = kept.parts.map((part, index) => {
    const known = part.status === 'read' ? part.found[pattern] : undefined;
    const text = texts[index];
    if (part.status !== 'read' || !known || typeof text !== 'string') return part;
    const still = new Map<string, number>();
    for (const { canonical, certainty } of scanner.scan(text).findings)
      still.set(canonical, Math.max(still.get(canonical) ?? 0, certainty));
    const stays = known[1].map((value, at) => Math.min(known[0][at] ?? 0, still.get(value) ?? -1));
    const left = [
      stays.filter((certainty) => certainty >= 0),
      known[1].filter((_value, at) => (stays[at] ?? -1) >= 0),
    ] as const;
    return { ...part, found: { ...part.found, [pattern]: left } };
  });
  return { ...kept, parts };
}

function withoutValue(
  change: Exclude<PatternChange, { kind: 'add-counter-word' }>,
  kept: KeptMovement,
): KeptMovement {
  const out = change.kind === 'remove-word' ? change.word : change.value;
  const parts = kept.parts.map((part) => {
    const known = part.status === 'read' ? part.found[change.pattern] : undefined;
    if (part.status !== 'read' || !known) return part;
    const stays = known[1].map((value) => !isSame(value, out));
    const kept = [
      known[0].filter((_one, at) => stays[at]),
      known[1].filter((_one, at) => stays[at]),
    ] as const;
    return { ...part, found: { ...part.found, [change.pattern]: kept } };
  });
  return { ...kept, parts };
}

/** The shortest text of a movement that holds a pattern: it shows how the value stands, and little else. Null for none. */
function textWith(row: KeptRow, pattern: string): TextOfRow | null {
  const kept = movementOf(row);
  const texts = textsOf(row);
  const [best] = kept.parts
    .flatMap((part, index) => {
      const values = part.status === 'read' ? part.found[pattern]?.[1] : undefined;
      const text = texts?.[index];
      return values && values.length > 0 && text ? [{ text, values: [...new Set(values)] }] : [];
    })
    .sort((one, other) => one.text.length - other.text.length);
  return best ?? null;
}

export const tasks = {
  read: (rows: readonly KeptRow[]): ReadRow[] => rows.map(read),
  judge: judged,
  texts: ({ rows, pattern }: TextsTask): (TextOfRow | null)[] => rows.map((row) => textWith(row, pattern)),
} satisfies TaskModule['tasks'];
