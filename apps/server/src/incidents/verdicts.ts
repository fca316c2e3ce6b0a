import type { Match, Verdict } from '@lantern/core/policy';
import type { EntityManager } from 'typeorm';
import { seal, sealJson, unsealJson } from '../platform/sealing.js';
import { SEALED_OF_MOVEMENT } from '../platform/keys/sealed-of-movement.js';
import type { KeyRing } from '../platform/keys/key-ring.js';
import type { IncidentEntity } from './incident.entity.js';

/** Verdicts of one transaction while those of earlier versions are sealed. */
const AT_ONCE = 200;

const { place } = SEALED_OF_MOVEMENT.verdict;

export function sealVerdict(key: Buffer, movementId: string, verdict: Verdict): Promise<Buffer> {
  return sealJson(key, place(movementId), verdict);
}

export async function openVerdict(
  key: Buffer,
  { movementId, sealedVerdict }: Pick<IncidentEntity, 'movementId' | 'sealedVerdict'>,
): Promise<Verdict> {
  if (!sealedVerdict) throw new Error('This verdict was not sealed yet');
  return inFull((await unsealJson(key, place(movementId), sealedVerdict)) as Verdict);
}

/** Verdicts of earlier versions know no cuts, bands and treatments. */
function inFull(verdict: Verdict): Verdict {
  const whole = (match: Match): Match => ({ ...OLD_MATCH, ...match, written: match.written ?? match.answer });
  return {
    ...verdict,
    treatments: verdict.treatments ?? [],
    matches: verdict.matches.map(whole),
    decidedBy: verdict.decidedBy && whole(verdict.decidedBy),
  };
}

const OLD_MATCH = { cut: null, band: 0, counted: null, text: null, treatments: [], silent: false } as const;

/** Seals verdicts that a version before sealing left in the clear. One that is cut off goes on at the next start. */
export async function sealOldVerdicts(manager: EntityManager, { installation }: KeyRing): Promise<void> {
  let after = 0;
  for (let isMore = true; isMore;) {
    const rows: { number: number; movementId: string; verdict: string }[] = await manager.query(
      // Behind those that are sealed by now: looking from the first one each time would take hours over a million.
      `SELECT number, movementId, verdict FROM incident
       WHERE number > ? AND sealedVerdict IS NULL AND verdict IS NOT NULL ORDER BY number LIMIT ?`,
      [after, AT_ONCE],
    );
    await manager.transaction(async (inside) => {
      for (const { number, movementId, verdict } of rows)
        await inside.query('UPDATE incident SET sealedVerdict = ?, verdict = NULL WHERE number = ?', [
          await seal(installation, place(movementId), Buffer.from(verdict)),
          number,
        ]);
    });
    after = rows.at(-1)?.number ?? after;
    isMore = rows.length === AT_ONCE;
  }
}
