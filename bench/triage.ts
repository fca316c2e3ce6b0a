/**
 * How fast the desk answers over many incidents, each figure as a ratio to a plain `SELECT COUNT(*)` over the incidents
 * in the same run, and how the figures grow from 10,000 incidents. Three matches and five movements an incident.
 * `npm run -s bench -- triage 100000` takes fewer than the million that are usual.
 */
import { setTimeout as wait } from 'node:timers/promises';
import mysql, { type Connection, type RowDataPacket } from 'mysql2/promise';
import { fill } from './lib/many-incidents.js';
import { type Running, startAll } from './lib/running.js';

const SMALL = 10_000;
const WANTED = Number(process.argv[2] ?? 1_000_000);
const ROUNDS = 7;
const EXPORTED = Math.min(100_000, WANTED);
type Figures = Record<
  'page' | 'facet' | 'group' | 'timeline' | 'lookalike' | 'changes' | 'rules' | 'most' | 'why' | 'guard',
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
  const yesterday = `from=${new Date(Date.now() - 2 * 86_400_000).toISOString()}&to=${new Date(Date.now() - 86_400_000).toISOString()}&zone=UTC`;
  const asked: Readonly<Record<keyof Figures, string>> = {
    page: `/incidents?filter=${line}&order=-urgency`,
    facet: `/incidents/values?field=severity&filter=${wide}`,
    group: `/incidents/groups?by=department,severity&filter=${encodeURIComponent('status ne "decided"')}`,
    timeline: `/incidents/around?about=person&incident=${Number(busy?.['number'])}&from=${from}&to=${new Date().toISOString()}`,
    lookalike: `/incidents/${Number(busy?.['number'])}/alike`,
    changes: `/insight/changes?${period}&listed=incidents&by=severity`,
    rules: `/insight/rules?${period}`,
    most: `/insight/most?${period}&listed=incidents`,
    why: `/insight/why?${yesterday}&listed=incidents`,
    guard: `/insight/guard?${period}`,
  };
  await get(asked.facet);
  await counting(running);
  const taken: Record<string, number[]> = { count: [] };
  for (let round = 0; round < ROUNDS; round += 1) {
    await decideSome(connection, Number(busy?.['number']));
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

/** Twenty incidents of the last weeks are decided again, as others do while somebody looks: what was counted before is no longer so. */
async function decideSome(connection: Connection, last: number): Promise<void> {
  const numbers = Array.from({ length: 20 }, () => last - Math.floor(Math.random() * (last / 13)));
  await connection.query(
    `UPDATE incident SET outcome = IF(outcome = 'harm', 'allowed', 'harm'), status = 'decided' WHERE number IN (?)`,
    [numbers],
  );
}

/** Waits until counts come from memory, as they do some minutes after a start with as many. */
async function counting({ address }: Running): Promise<void> {
  for (;;) {
    const health = (await (await fetch(`${address}/api/health`)).json()) as { counts: string };
    if (health.counts === 'memory') return;
    await wait(1_000);
  }
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
      insightRatio: Math.max(...(['changes', 'rules', 'most', 'why', 'guard'] as const).map(ratio)),
      exportRowsPerSecond: Math.round((out.rows / out.ms) * 1_000),
      countMs: Number(large.count.toFixed(1)),
    }),
  );
  await connection.end();
} finally {
  await running.stop();
}
