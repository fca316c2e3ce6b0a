/** Incidents, matches and movements in any number, for benchmarks: three matches and five movements an incident. */
import type { Connection } from 'mysql2/promise';

/** Movements made by one statement. */
const MADE_AT_ONCE = 100_000;

/** The id of the movement with a number, as the database writes one. */
const ID = (column: string) =>
  `CAST(CONCAT(LPAD(HEX(${column}), 8, '0'), '-0000-4000-8000-000000000000') AS UUID)`;
/** One of 5,000 people, each in one of 40 departments: five movements that follow each other are of one person. */
const WHO = 'MOD((seq DIV 5) * 7919, 5000)';
const PERSON = `CONCAT('person', ${WHO}, '@merrowstrait.example')`;
const CHANNEL = "ELT(1 + MOD(seq DIV 5 + seq DIV 25, 5), 'mail', 'chat', 'drive', 'browser', 'endpoint')";
const POLICY = (rule: number) =>
  `CAST(CONCAT(LPAD(HEX(MOD(seq DIV 5 + ${rule}, 20)), 8, '0'), '-0000-4000-8000-000000000001') AS UUID)`;
/** The movements of one filling follow each other over the year before. */
const AT = (from: number, to: number) =>
  `NOW(3) - INTERVAL 31536000 * (${to * 5 + 1} - seq) / ${(to - from) * 5} SECOND`;

/** Fills the tables up to so many incidents: every fifth movement has one. */
export async function fill(connection: Connection, from: number, to: number): Promise<void> {
  await connection.query('SET unique_checks = 0, foreign_key_checks = 0');
  const at = AT(from, to);
  for (let first = from * 5 + 1; first <= to * 5; first += MADE_AT_ONCE) {
    const last = Math.min(first + MADE_AT_ONCE - 1, to * 5);
    const s = `seq_${first}_to_${last}`;
    await connection.query(`INSERT INTO movement
      (id, channel, at, personAddress, personName, department, recipients, revision, answer, activity, machine, incidentNumber)
      SELECT ${ID('seq')}, ${CHANNEL}, ${at},
        ${PERSON}, CONCAT('Person ', ${WHO}), CONCAT('Department ', MOD(${WHO}, 40)),
        JSON_ARRAY(JSON_OBJECT('address', CONCAT('desk@partner', MOD(seq * 31, 900), '.example'), 'outside', TRUE)), 1,
        IF(MOD(seq, 5) = 0, ELT(1 + MOD(seq DIV 5, 5), 'note', 'advise', 'ask', 'hold', 'block'), NULL), 'send',
        CONCAT('DESK-', ${WHO}), IF(MOD(seq, 5) = 0, seq DIV 5, NULL)
      FROM ${s}`);
    await connection.query(`INSERT INTO incident
      (number, movementId, at, status, outcome, severity, urgency, urgencyParts, counts, unreadableParts, matches, verdict,
       silent, openSeverity, openUrgency, openUrgencyParts, openMatches, openAnswer, reported, version, channel,
       personAddress, personName, department, answer, revision, firstSeverity, activity, machine, signature, alikeKey)
      SELECT seq DIV 5, ${ID('seq')}, ${at}, IF(MOD(seq DIV 5, 10) < 2, 'new', 'decided'),
        IF(MOD(seq DIV 5, 10) < 2, NULL, ELT(1 + MOD(seq DIV 5, 3), 'false-positive', 'allowed', 'harm')),
        @severity := ELT(1 + MOD(seq DIV 5, 4), 'low', 'medium', 'high', 'critical'), MOD(seq * 13, 100), '{"total":1,"parts":[]}',
        '[]', 0, 3, '{"answer":"note","matches":[],"trace":[],"decidedBy":null,"treatments":[]}', 0,
        ELT(1 + MOD(seq DIV 5, 4), 'low', 'medium', 'high', 'critical'), MOD(seq * 13, 100), '{"total":1,"parts":[]}', 3,
        ELT(1 + MOD(seq DIV 5, 5), 'note', 'advise', 'ask', 'hold', 'block'), 0, 1,
        ${CHANNEL}, ${PERSON},
        CONCAT('Person ', ${WHO}), CONCAT('Department ', MOD(${WHO}, 40)),
        ELT(1 + MOD(seq DIV 5, 5), 'note', 'advise', 'ask', 'hold', 'block'), 1,
        ELT(1 + MOD(seq DIV 5, 4), 'low', 'medium', 'high', 'critical'), 'send', CONCAT('DESK-', ${WHO}),
        UNHEX(RPAD('', 512, HEX(MOD(seq DIV 5, 250)))), LPAD(HEX(MOD(seq DIV 5, 60)), 16, '0')
      FROM ${s} WHERE MOD(seq, 5) = 0`);
    for (const rule of [0, 1, 2])
      await connection.query(`INSERT INTO rule_match (movementId, incidentNumber, policyId, ruleId, silent, answer, severity)
        SELECT ${ID('seq')}, seq DIV 5, ${POLICY(rule)},
          CONCAT('rule-', MOD(seq DIV 5 + ${rule}, 60)), 0,
          ELT(1 + MOD(seq DIV 5 + ${rule}, 5), 'note', 'advise', 'ask', 'hold', 'block'), 'low' FROM ${s} WHERE MOD(seq, 5) = 0`);
    const traits: readonly (readonly [string, string, string])[] = [
      ['destination', "CONCAT('desk@partner', MOD(seq * 31, 900), '.example')", 'TRUE'],
      ['domain', "CONCAT('partner', MOD(seq * 31, 900), '.example')", 'TRUE'],
      ...[0, 1, 2].flatMap((rule): [string, string, string][] => [
        ['policy', POLICY(rule), 'MOD(seq, 5) = 0'],
        ['rule', `CONCAT('rule-', MOD(seq DIV 5 + ${rule}, 60))`, 'MOD(seq, 5) = 0'],
      ]),
      [
        'reply',
        "ELT(1 + MOD(seq DIV 25, 3), 'work', 'mistake', 'no-reply')",
        'MOD(seq, 5) = 0 AND MOD(seq DIV 5, 5) = 2',
      ],
      ['pattern', "CONCAT('pattern-', MOD(seq DIV 5, 30))", 'MOD(seq, 5) = 0'],
    ];
    for (const [field, value, where] of traits)
      await connection.query(`INSERT INTO movement_trait (movementId, incidentNumber, field, value)
        SELECT ${ID('seq')}, IF(MOD(seq, 5) = 0, seq DIV 5, NULL), '${field}', ${value} FROM ${s} WHERE ${where}`);
    await connection.query(`INSERT INTO alike_band (hash, incidentNumber)
      SELECT UNHEX(LPAD(HEX(MOD(seq DIV 5, 250)), 16, '0')), seq DIV 5 FROM ${s} WHERE MOD(seq, 5) = 0`);
  }
  await connection.query('ANALYZE TABLE movement, incident, rule_match, movement_trait, alike_band');
}
