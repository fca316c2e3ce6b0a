import { createConnection } from 'mysql2/promise';

/** What the database keeps of what was handed in since `before`: movements, and the doors and keys they came with. */
export async function countKept({ host, port, user, password, database }, before = null) {
  const connection = await createConnection({ host, port, user, password, database });
  try {
    const [[{ movements }]] = await connection.query('SELECT COUNT(*) AS movements FROM movement');
    const [submissions] = await connection.query('SELECT submitter, `key`, movementId FROM submission');
    const found = new Set(submissions.map(({ submitter, key }) => `${submitter} ${key}`));
    return {
      movements,
      submissions: submissions.length,
      against: (accepted) => {
        // Each submission makes one movement; more of them than that are doubles.
        const more = movements - before.movements - (submissions.length - before.submissions);
        const once = new Set(submissions.map(({ movementId }) => movementId));
        return {
          lost: [...accepted].filter((name) => !found.has(name)).length,
          doubled: Math.max(0, more) + submissions.length - once.size,
        };
      },
    };
  } finally {
    await connection.end();
  }
}
