import { createHash } from 'node:crypto';
import type { MigrationInterface, QueryRunner } from 'typeorm';

/**
 * Rules with bands, texts written once, the register of exchanges, the journal and its replays, and movements that wait
 * for somebody. Rules of earlier versions, with one answer and a notice of their own, become rules with one band and a
 * text; equal notices become one text.
 */
export class RulesInFull1764000000007 implements MigrationInterface {
  async up(runner: QueryRunner): Promise<void> {
    for (const statement of STATEMENTS) await runner.query(statement);
    const texts = new Map<string, OldText>();
    const drafts = (await runner.query('SELECT id, definition FROM policy_draft')) as OldRow[];
    for (const { id, definition } of drafts) {
      const policy = typeof definition === 'string' ? (JSON.parse(definition) as OldPolicy) : definition;
      await runner.query('UPDATE policy_draft SET definition = ? WHERE id = ?', [
        JSON.stringify(inFull(policy, texts)),
        id,
      ]);
    }
    for (const { id, ...definition } of texts.values())
      await runner.query(
        "INSERT INTO set_part (id, kind, definition, version, updatedAt, updatedBy) VALUES (?, 'text', ?, 1, UTC_TIMESTAMP(3), 'Uncut Lantern')",
        [id, JSON.stringify(definition)],
      );
    // Whoever could publish before can do what publishing now comes with.
    await runner.query(
      `UPDATE account SET permissions = JSON_ARRAY_APPEND(permissions, '$', 'policies.silent', '$', 'replay.run', '$', 'journal.set', '$', 'overrides.decide')
        WHERE JSON_CONTAINS(permissions, '"policies.publish"')`,
    );
    const revisions = (await runner.query('SELECT number, document FROM revision')) as OldRevision[];
    for (const { number, document } of revisions) {
      const used = new Map<string, OldText>();
      const { patterns, policies } = JSON.parse(document) as { patterns: unknown; policies: OldPolicy[] };
      const converted = policies.map((policy) => inFull(policy, used));
      await runner.query('UPDATE revision SET document = ? WHERE number = ?', [
        JSON.stringify({ patterns, policies: converted, texts: [...used.values()], exchanges: [] }),
        number,
      ]);
    }
  }

  async down(runner: QueryRunner): Promise<void> {
    for (const table of [
      'digest_entry',
      'waiting_movement',
      'replay',
      'journal_setting',
      'journal',
      'set_part',
    ])
      await runner.query(`DROP TABLE ${table}`);
    await runner.query('ALTER TABLE mail_message DROP COLUMN treatments');
    await runner.query('ALTER TABLE rule_match DROP COLUMN written, DROP COLUMN cut');
    await runner.query('ALTER TABLE incident DROP COLUMN silent');
    await runner.query('ALTER TABLE movement DROP INDEX movement_content, DROP COLUMN contentDigest');
    await runner.query('ALTER TABLE partner DROP COLUMN country');
    await runner.query('ALTER TABLE person DROP COLUMN language');
  }
}

interface OldRow {
  readonly id: string;
  readonly definition: string | OldPolicy;
}
interface OldRevision {
  readonly number: number;
  readonly document: string;
}
interface OldPolicy {
  readonly rules: readonly OldRule[];
}
type OldRule = Readonly<Record<string, unknown>> & {
  readonly answer?: string;
  readonly severity?: string;
  readonly notice?: string;
};
interface OldText {
  readonly id: string;
  readonly name: string;
  readonly words: readonly { readonly language: string; readonly text: string }[];
  readonly guidance: string;
  readonly contact: string;
}

function inFull(policy: OldPolicy, texts: Map<string, OldText>): object {
  const rules = policy.rules.map(({ answer, severity, notice, when, unless, ...rest }) => {
    if (answer === undefined) return { ...rest, when, unless };
    const text = answer === 'note' || !notice?.trim() ? null : textFor(notice.trim(), texts);
    return {
      ...rest,
      name: '',
      people: null,
      when: withPlaces(when),
      unless: withPlaces(unless),
      measure: null,
      bands: [{ from: 1, to: null, answer, severity, treatments: [], text }],
      ask: null,
      override: null,
      keep: 'excerpts',
      tell: [],
      silence: null,
      bindsFrom: null,
    };
  });
  const people = { with: [], without: [] };
  return { owner: '', people, shared: null, ceilings: [], ...policy, rules };
}

/** Clauses about findings now say where, those about what cannot be read say why; empty means anywhere and for any. */
function withPlaces(condition: unknown): unknown {
  if (typeof condition !== 'object' || condition === null) return condition;
  const clause = condition as { kind?: string; of?: unknown[] };
  if (clause.of) return { ...clause, of: clause.of.map(withPlaces) };
  if (clause.kind === 'findings') return { ...clause, where: [] };
  return clause.kind === 'unreadable' ? { ...clause, reasons: [] } : clause;
}

function textFor(notice: string, texts: Map<string, OldText>): string {
  const known = texts.get(notice);
  if (known) return known.id;
  const hash = createHash('sha256').update(notice).digest('hex');
  const id = `${hash.slice(0, 8)}-${hash.slice(8, 12)}-4${hash.slice(13, 16)}-8${hash.slice(17, 20)}-${hash.slice(20, 32)}`;
  const name = notice.length > 60 ? `${notice.slice(0, 57)}…` : notice;
  texts.set(notice, { id, name, words: [{ language: 'en', text: notice }], guidance: '', contact: '' });
  return id;
}

const STATEMENTS = [
  `CREATE TABLE set_part (id uuid NOT NULL PRIMARY KEY, kind varchar(20) NOT NULL, definition json NOT NULL, version int NOT NULL,
    updatedAt datetime(3) NOT NULL, updatedBy varchar(120) NOT NULL, KEY part_kind (kind))`,
  `CREATE TABLE journal (movementId uuid NOT NULL PRIMARY KEY, channel varchar(20) NOT NULL, at datetime(3) NOT NULL, revision int NULL,
    hasContent boolean NOT NULL, sealed longblob NOT NULL, sealedTexts longblob NULL, KEY journal_at (at), KEY journal_channel (channel, at))`,
  `CREATE TABLE journal_setting (channel varchar(20) NOT NULL PRIMARY KEY, keeps varchar(20) NOT NULL, days int NOT NULL)`,
  `CREATE TABLE replay (id uuid NOT NULL PRIMARY KEY, state varchar(20) NOT NULL, since datetime(3) NOT NULL, until datetime(3) NOT NULL,
    startedAt datetime(3) NOT NULL, startedBy varchar(120) NOT NULL, figures longtext NOT NULL, KEY replay_started (startedAt))`,
  `CREATE TABLE waiting_movement (id uuid NOT NULL PRIMARY KEY, movementId uuid NOT NULL, incidentNumber int NOT NULL, channel varchar(20) NOT NULL,
    kind varchar(20) NOT NULL, state varchar(20) NOT NULL, person uuid NOT NULL, since datetime(3) NOT NULL, deadline datetime(3) NULL,
    otherwise varchar(20) NOT NULL, decides varchar(20) NOT NULL, words text NOT NULL, decidedBy varchar(120) NULL, decidedAt datetime(3) NULL,
    KEY waiting_state (state, deadline), KEY waiting_incident (incidentNumber))`,
  `CREATE TABLE digest_entry (id bigint NOT NULL AUTO_INCREMENT PRIMARY KEY, address varchar(254) NOT NULL, incidentNumber int NOT NULL,
    at datetime(3) NOT NULL, KEY digest_at (at))`,
  'ALTER TABLE mail_message ADD COLUMN treatments json NULL',
  'ALTER TABLE rule_match ADD COLUMN written varchar(20) NULL, ADD COLUMN cut varchar(20) NULL, MODIFY ruleId varchar(60) NOT NULL',
  'ALTER TABLE incident ADD COLUMN silent boolean NOT NULL DEFAULT false',
  'ALTER TABLE movement ADD COLUMN contentDigest char(64) NULL, ADD KEY movement_content (personAddress, contentDigest)',
  'ALTER TABLE partner ADD COLUMN country char(2) NULL',
  "ALTER TABLE person ADD COLUMN language varchar(10) NOT NULL DEFAULT 'en'",
];
