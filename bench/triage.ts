/**
 * How fast the desk answers over many incidents, each figure as a ratio to a plain `SELECT COUNT(*)` over the incidents
 * in the same run, and how the figures grow from 10,000 incidents. Three matches and five movements an incident.
 * `npm run -s bench -- triage 100000` takes fewer than the million that are usual.
 */
import mysql, { type Connection, type RowDataPacket } from 'mysql2/promise';
import { type Running, startAll } from './lib/running.js';

const SMALL = 10_000;
const WANTED = Number(process.argv[2] ?? 1_000_000);
const ROUNDS = 7;
/** Movements made by one statement. */
const MADE_AT_ONCE = 100_000;
const EXPORTED = Math.min(100_000, WANTED);

/** The id of the movement with a number, as the database writes one. */
const ID = (column: string) =>
  `CAST(CONCAT(LPAD(HEX(${column}), 8, '0'), '-0000-4000-8000-000000000000') AS UUID)`;
const PERSON = (column: string) => `CONCAT('person', MOD(${column} * 7919, 5000), '@merrowstrait.example')`;
const AT = (column: string) => `NOW(3) - INTERVAL MOD(${column} * 104729, 31536000) SECOND`;

/** Fills the tables up to so many incidents: every fifth movement has one. */
async function fill(connection: Connection, from: number, to: number): Promise<void> {
  await connection.query('SET unique_checks = 0, foreign_key_checks = 0');
  for (let first = from * 5 + 1; first <= to * 5; first += MADE_AT_ONCE) {
    const last = Math.min(first + MADE_AT_ONCE - 1, to * 5);
    const s = `seq_${first}_to_${last}`;
    await connection.query(`INSERT INTO movement
      (id, channel, at, personAddress, personName, department, recipients, revision, answer, activity, machine, incidentNumber)
      SELECT ${ID('seq')}, ELT(1 + MOD(seq, 5), 'mail', 'chat', 'drive', 'browser', 'endpoint'), ${AT('seq')},
        ${PERSON('seq')}, CONCAT('Person ', MOD(seq * 7919, 5000)), CONCAT('Department ', MOD(seq * 7919, 40)),
        JSON_ARRAY(JSON_OBJECT('address', CONCAT('desk@partner', MOD(seq * 31, 900), '.example'), 'outside', TRUE)), 1,
        IF(MOD(seq, 5) = 0, ELT(1 + MOD(seq DIV 5, 5), 'note', 'advise', 'ask', 'hold', 'block'), NULL), 'send',
        CONCAT('DESK-', MOD(seq * 7919, 5000)), IF(MOD(seq, 5) = 0, seq DIV 5, NULL)
      FROM ${s}`);
    await connection.query(`INSERT INTO incident
      (number, movementId, at, status, outcome, severity, urgency, urgencyParts, counts, unreadableParts, matches, verdict,
       silent, openSeverity, openUrgency, openUrgencyParts, openMatches, openAnswer, reported, version, channel,
       personAddress, personName, department, answer, revision, firstSeverity, activity, machine, signature, alikeKey)
      SELECT seq DIV 5, ${ID('seq')}, ${AT('seq')}, IF(MOD(seq DIV 5, 10) < 2, 'new', 'decided'),
        IF(MOD(seq DIV 5, 10) < 2, NULL, ELT(1 + MOD(seq, 3), 'false-positive', 'allowed', 'harm')),
        @severity := ELT(1 + MOD(seq DIV 5, 4), 'low', 'medium', 'high', 'critical'), MOD(seq * 13, 100), '{"total":1,"parts":[]}',
        '[]', 0, 3, '{"answer":"note","matches":[],"trace":[],"decidedBy":null,"treatments":[]}', 0,
        ELT(1 + MOD(seq DIV 5, 4), 'low', 'medium', 'high', 'critical'), MOD(seq * 13, 100), '{"total":1,"parts":[]}', 3,
        ELT(1 + MOD(seq DIV 5, 5), 'note', 'advise', 'ask', 'hold', 'block'), 0, 1,
        ELT(1 + MOD(seq, 5), 'mail', 'chat', 'drive', 'browser', 'endpoint'), ${PERSON('seq')},
        CONCAT('Person ', MOD(seq * 7919, 5000)), CONCAT('Department ', MOD(seq * 7919, 40)),
        ELT(1 + MOD(seq DIV 5, 5), 'note', 'advise', 'ask', 'hold', 'block'), 1,
        ELT(1 + MOD(seq DIV 5, 4), 'low', 'medium', 'high', 'critical'), 'send', CONCAT('DESK-', MOD(seq * 7919, 5000)),
        UNHEX(RPAD('', 512, HEX(MOD(seq DIV 5, 250)))), LPAD(HEX(MOD(seq DIV 5, 60)), 16, '0')
      FROM ${s} WHERE MOD(seq, 5) = 0`);
    for (const rule of [0, 1, 2])
      await connection.query(`INSERT INTO rule_match (movementId, incidentNumber, policyId, ruleId, silent, answer, severity)
        SELECT ${ID('seq')}, seq DIV 5, CAST(CONCAT(LPAD(HEX(MOD(seq DIV 5 + ${rule}, 20)), 8, '0'), '-0000-4000-8000-000000000001') AS UUID),
          CONCAT('rule-', MOD(seq DIV 5 + ${rule}, 60)), 0, 'note', 'low' FROM ${s} WHERE MOD(seq, 5) = 0`);
    const traits: readonly (readonly [string, string, string])[] = [
      ['destination', "CONCAT('desk@partner', MOD(seq * 31, 900), '.example')", 'TRUE'],
      ['domain', "CONCAT('partner', MOD(seq * 31, 900), '.example')", 'TRUE'],
      ['rule', "CONCAT('rule-', MOD(seq DIV 5, 60))", 'MOD(seq, 5) = 0'],
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

type Figures = Record<
  'page' | 'facet' | 'group' | 'timeline' | 'lookalike' | 'changes' | 'rules' | 'most',
  number
>;

const median = (values: readonly number[]): number =>
  [...values].sort((one, other) => one - other)[Math.floor(values.length / 2)] ?? 0;

/** Milliseconds of each question, and of the plain count, the median of rounds that alternate. */
async function measure(
  running: Running,
  connection: Connection,
): Promise<{ figures: Figures; count: number }> {
  const cookie = await signIn(running);
  const get = async (path: string): Promise<number> => {
    const began = performance.now();
    const response = await fetch(`${running.address}/api${path}`, { headers: { cookie } });
    const text = await response.text();
    if (!response.ok) throw new Error(`${path} answered ${response.status}: ${text.slice(0, 200)}`);
    return performance.now() - began;
  };
  const line = encodeURIComponent(
    'status ne "decided" and department eq "Department 7" and domain eq "partner31.example"',
  );
  const wide = encodeURIComponent('status ne "decided" and channel eq "mail"');
  const [busy] = await rows(connection, 'SELECT MAX(number) AS number FROM incident');
  const from = new Date(Date.now() - 84 * 86_400_000).toISOString();
  // Four weeks, as the screens of Insight open.
  const period = `from=${new Date(Date.now() - 28 * 86_400_000).toISOString()}&to=${new Date().toISOString()}&zone=UTC`;
  const asked: Readonly<Record<keyof Figures, string>> = {
    page: `/incidents?filter=${line}&order=-urgency`,
    facet: `/incidents/values?field=severity&filter=${wide}`,
    group: `/incidents/groups?by=department,severity&filter=${encodeURIComponent('status ne "decided"')}`,
    timeline: `/incidents/around?about=person&incident=${Number(busy?.['number'])}&from=${from}&to=${new Date().toISOString()}`,
    lookalike: `/incidents/${Number(busy?.['number'])}/alike`,
    changes: `/insight/changes?${period}&listed=incidents&by=severity`,
    rules: `/insight/rules?${period}`,
    most: `/insight/most?${period}&listed=incidents`,
  };
  const taken: Record<string, number[]> = { count: [] };
  for (let round = 0; round < ROUNDS; round += 1) {
    const began = performance.now();
    await connection.query('SELECT COUNT(*) FROM incident');
    taken['count']?.push(performance.now() - began);
    for (const [name, path] of Object.entries(asked)) (taken[name] ??= []).push(await get(path));
  }
  const figures = Object.fromEntries(
    Object.keys(asked).map((name) => [name, median(taken[name] ?? [])]),
  ) as Figures;
  return { figures, count: median(taken['count'] ?? []) };
}

async function signIn({ address, account }: Running): Promise<string> {
  const answer = await fetch(`${address}/api/session`, {
    method: 'POST',
    headers: { 'content-type': 'application/json' },
    body: JSON.stringify({ email: account.email, password: account.password }),
  });
  return answer.headers.get('set-cookie')?.split(';')[0] ?? '';
}

async function rows(connection: Connection, sql: string): Promise<RowDataPacket[]> {
  const [found] = await connection.query<RowDataPacket[]>(sql);
  return found;
}

/** Milliseconds of an export, and rows in it. */
async function exported(running: Running): Promise<{ ms: number; rows: number }> {
  const cookie = await signIn(running);
  const filter = encodeURIComponent(`number le ${EXPORTED}`);
  const began = performance.now();
  const response = await fetch(
    `${running.address}/api/incidents/export?listed=incidents&format=csv&order=number&filter=${filter}`,
    { headers: { cookie } },
  );
  const text = await response.text();
  return { ms: performance.now() - began, rows: text.split('\n').length - 2 };
}

const running = await startAll();
try {
  const { host, port, user, password, database } = running.database;
  const connection = await mysql.createConnection({ host, port, user, password, database });
  console.log(`Making ${SMALL.toLocaleString('en-GB')} incidents …`);
  await fill(connection, 0, SMALL);
  const small = await measure(running, connection);
  console.log(`Making ${WANTED.toLocaleString('en-GB')} incidents …`);
  await fill(connection, SMALL, WANTED);
  const large = await measure(running, connection);
  const out = await exported(running);
  const ratio = (name: keyof Figures) => Number((large.figures[name] / large.count).toFixed(3));
  for (const name of Object.keys(large.figures) as (keyof Figures)[])
    console.log(
      `${name.padEnd(10)} ${large.figures[name].toFixed(1)} ms, ${ratio(name)} of the count (${large.count.toFixed(1)} ms); ` +
        `${small.figures[name].toFixed(1)} ms at ${SMALL}`,
    );
  console.log(`export     ${out.rows} rows in ${out.ms.toFixed(0)} ms`);
  console.log(
    JSON.stringify({
      bench: 'triage',
      incidents: WANTED,
      pageRatio: ratio('page'),
      facetRatio: ratio('facet'),
      groupRatio: ratio('group'),
      timelineRatio: ratio('timeline'),
      lookalikeRatio: ratio('lookalike'),
      insightRatio: Math.max(ratio('changes'), ratio('rules'), ratio('most')),
      exportRowsPerSecond: Math.round((out.rows / out.ms) * 1_000),
      countMs: Number(large.count.toFixed(1)),
    }),
  );
  await connection.end();
} finally {
  await running.stop();
}
